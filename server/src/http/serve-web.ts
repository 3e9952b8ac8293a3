import express, { type Express } from 'express';
import path from 'node:path';

/**
 * The built web application. Files with a hash in their name never change; the page itself is always asked for,
 * so that nobody works with yesterday's version. Every address that is not a file is the application's own.
 */
export function serveWeb(http: Express, dir: string): void {
  http.use(
    express.static(dir, {
      index: false,
      setHeaders: (res, file) => {
        const hashed = /[-.][A-Z0-9]{8}\.\w+$/.test(path.basename(file));
        res.setHeader('Cache-Control', hashed ? `public, max-age=31536000, immutable` : 'no-cache');
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
