/** Reversed polynomial of CRC-32 as in IEEE 802.3, 3.2.9. */
const POLYNOMIAL = 0xedb88320;

const TABLE = Uint32Array.from({ length: 256 }, (_, byte) => {
  let value = byte;
  for (let bit = 0; bit < 8; bit++) value = value & 1 ? (value >>> 1) ^ POLYNOMIAL : value >>> 1;
  return value >>> 0;
});

/** CRC-32 of `bytes`, 0 to 2^32 - 1. Here and not from zlib, because the desk's worker needs it too. */
export function crc32(bytes: Uint8Array): number {
  let crc = 0xffff_ffff;
  for (const byte of bytes) crc = TABLE[(crc ^ byte) & 0xff]! ^ (crc >>> 8);
  return (crc ^ 0xffff_ffff) >>> 0;
}
