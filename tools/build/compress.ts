import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { brotliCompressSync, constants, gzipSync } from 'node:zlib';

/** What gets smaller by it; fonts and pictures are compressed already. */
const WORTH_IT = /\.(js|css|html|svg)$/;
/** Shorter, and a file fits into one packet anyway. */
const LEAST_BYTES = 1000;

/** Writes `.br` and `.gz` beside every file of a folder that is worth it, as small as they get. */
export function compressFolder(dir: string): void {
  for (const name of readdirSync(dir)) {
    if (!WORTH_IT.test(name)) continue;
    const file = path.join(dir, name);
    const bytes = readFileSync(file);
    if (bytes.length < LEAST_BYTES) continue;
    const params = { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY };
    writeFileSync(`${file}.br`, brotliCompressSync(bytes, { params }));
    writeFileSync(`${file}.gz`, gzipSync(bytes, { level: 9 }));
  }
}
