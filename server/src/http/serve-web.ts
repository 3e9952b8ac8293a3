import type { Express } from 'express';
import staticFiles from 'express-static-gzip';
import path from 'node:path';

/** `main-SDMPBPLU.js`, `chunk-_iB0IQf4.js.br`: a name that changes with what is in it. */
const HASHED = /-[\w-]{8}\.\w+(\.br|\.gz)?$/;

/**
 * The built web application. Files with a hash in their name never change; the page itself is always asked for,
 * so that nobody works with yesterday's version. Every address that is not a file is the application's own.
 */
export function serveWeb(http: Express, dir: string): void {
  http.use(
    staticFiles(dir, {
      // Compressed once, by the build: see tools/build/compress.ts.
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      serveStatic: {
        setHeaders: (res, file) => {
          const hashed = HASHED.test(path.basename(file));
          res.setHeader('Cache-Control', hashed ? `public, max-age=31536000, immutable` : 'no-cache');
        },
      },
    }),
  );
  http.get('/{*any}', (req, res, next) => {
    if (path.extname(req.path) !== '') {
      next();
      return;
    }
    res.setHeader('Cache-Control', 'no-cache');
    res.sendFile('index.html', { root: dir, cacheControl: false });
  });
  http.use((_req, res) => {
    res.status(404).type('text').send('There is nothing at this address.');
  });
}
