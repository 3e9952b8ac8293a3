import express from 'express';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { Server } from 'node:http';
import { get } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { serveWeb } from './serve-web';

describe('serving the web', () => {
  let dir: string;
  let server: Server;
  beforeAll(async () => {
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-web-'));
    const files = {
      'index.html': 'page',
      'main-SDMPBPLU.js': 'plain',
      'main-SDMPBPLU.js.br': 'small',
      'icon.svg': '<svg/>',
    };
    for (const [name, text] of Object.entries(files)) writeFileSync(path.join(dir, name), text);
    const http = express();
    serveWeb(http, dir);
    server = http.listen(0, '127.0.0.1');
    await new Promise((done) => server.once('listening', done));
  });
  afterAll(() => {
    server.close();
    rmSync(dir, { recursive: true });
  });

  /** With Node's own client: fetch would tidy up the path and unpack the answer. */
  const ask = (at: string, encoding = 'identity') =>
    new Promise<{ status: number; text: string; headers: Record<string, unknown> }>((done, failed) => {
      const { port } = server.address() as AddressInfo;
      get({ port, path: at, headers: { 'Accept-Encoding': encoding } }, (response) => {
        let text = '';
        response.on('data', (part) => (text += String(part)));
        response.on('end', () => done({ status: response.statusCode!, text, headers: response.headers }));
      }).on('error', failed);
    });

  it('lets files whose name changes with them be kept for ever, and asks anew for the others', async () => {
    expect((await ask('/main-SDMPBPLU.js')).headers['cache-control']).toContain('immutable');
    for (const at of ['/icon.svg', '/', '/shows/1']) {
      expect((await ask(at)).headers['cache-control'])
        .withContext(at)
        .toBe('no-cache');
    }
  });

  it('sends what the build compressed to whoever takes it', async () => {
    const small = await ask('/main-SDMPBPLU.js', 'br, gzip');
    expect([small.text, small.headers['content-encoding']]).toEqual(['small', 'br']);
    expect(small.headers['cache-control']).toContain('immutable');
    expect((await ask('/main-SDMPBPLU.js')).text).toBe('plain');
  });

  it('leaves every address that is no file to the application', async () => {
    for (const at of ['/', '/shows', '/desk/1?x=2', '/guest']) {
      expect((await ask(at)).text)
        .withContext(at)
        .toBe('page');
    }
  });

  it('has nothing at the address of a file there is not, nor outside its folder', async () => {
    for (const at of [
      '/main-OLDOLDOL.js',
      '/../package.json',
      '/..%2fpackage.json',
      '/%2e%2e/package.json',
    ]) {
      const { status, text } = await ask(at);
      expect(status).withContext(at).toBeGreaterThanOrEqual(400);
      expect(text).not.toContain('"name"');
    }
  });
});
