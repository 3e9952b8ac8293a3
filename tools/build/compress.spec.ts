import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import { compressFolder } from './compress';

describe('compressing the web', () => {
  let dir: string;
  beforeEach(() => (dir = mkdtempSync(path.join(tmpdir(), 'juncta-compress-'))));
  afterEach(() => rmSync(dir, { recursive: true }));

  it('writes both forms beside what is worth it, and nothing beside the rest', () => {
    const text = 'export const words = 1;\n'.repeat(100);
    for (const name of ['main.js', 'font.woff2', 'main.js.map']) writeFileSync(path.join(dir, name), text);
    writeFileSync(path.join(dir, 'small.js'), 'x');
    compressFolder(dir);
    const at = (name: string) => readFileSync(path.join(dir, name));
    expect(brotliDecompressSync(at('main.js.br')).toString()).toBe(text);
    expect(gunzipSync(at('main.js.gz')).toString()).toBe(text);
    expect(at('main.js.br').length).toBeLessThan(text.length / 4);
    for (const name of ['font.woff2', 'main.js.map', 'small.js']) {
      expect(existsSync(path.join(dir, `${name}.br`)))
        .withContext(name)
        .toBeFalse();
    }
  });
});
