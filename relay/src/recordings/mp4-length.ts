import { closeSync, openSync, readSync } from 'node:fs';

/** Enough for the boxes that stand before a file's media. */
const HEAD_BYTES = 64 * 1024;

/** The length of an MP4 file in ms, from its movie header (ISO/IEC 14496-12, 8.2.2); null when it is not found. */
export function lengthOfMp4(file: string): number | null {
  const head = Buffer.alloc(HEAD_BYTES);
  const handle = openSync(file, 'r');
  const bytes = head.subarray(0, readSync(handle, head, 0, HEAD_BYTES, 0));
  closeSync(handle);
  const at = bytes.indexOf('mvhd');
  if (at < 0 || at + 32 > bytes.length) return null;
  const version = bytes[at + 4];
  const [scale, length] =
    version === 1
      ? [bytes.readUInt32BE(at + 24), Number(bytes.readBigUInt64BE(at + 28))]
      : [bytes.readUInt32BE(at + 16), bytes.readUInt32BE(at + 20)];
  return scale > 0 ? Math.round((length * 1000) / scale) : null;
}
