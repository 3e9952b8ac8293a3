/** What of a WOFF2 file says whether it is one (W3C WOFF File Format 2.0, 4 and 5). */
export interface FontDirectory {
  /** Where its one compressed block begins, and how long it is, bytes. */
  readonly from: number;
  readonly length: number;
  /** How long the block is unpacked, bytes. */
  readonly unpacked: number;
}

const SIGNATURE = 0x774f4632;
/** TrueType, and OpenType with PostScript outlines; collections are none of it. */
const FLAVOURS = [0x00010000, 0x4f54544f, 0x74727565];
const HEADER_BYTES = 48;
const MOST_TABLES = 64;
/** Of a font unpacked: what is larger is no typeface for Latin script. */
export const FONT_UNPACKED_MAX = 16 * 1024 * 1024;
/** Numbers of known table tags whose transform is the other way round: `glyf` and `loca` are transformed by version 0. */
const [GLYF, LOCA] = [10, 11];
const OTHER_TAG = 63;

/** Reads the directory of a WOFF2 file; null: it is none, or it contradicts itself. */
export function readFontDirectory(bytes: Uint8Array): FontDirectory | null {
  if (bytes.length < HEADER_BYTES) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint32(0) !== SIGNATURE || !FLAVOURS.includes(view.getUint32(4))) return null;
  if (view.getUint32(8) !== bytes.length || view.getUint16(14) !== 0) return null;
  const [tables, length] = [view.getUint16(12), view.getUint32(20)];
  if (tables === 0 || tables > MOST_TABLES) return null;
  let at = HEADER_BYTES;
  let unpacked = 0;
  for (let i = 0; i < tables; i++) {
    const flags = bytes[at];
    if (flags === undefined) return null;
    const tag = flags & 0x3f;
    at += tag === OTHER_TAG ? 5 : 1;
    const original = readBase128(bytes, at);
    if (!original) return null;
    at = original.to;
    const version = flags >> 6;
    const isTransformed = tag === GLYF || tag === LOCA ? version === 0 : version !== 0;
    const transformed = isTransformed ? readBase128(bytes, at) : null;
    if (isTransformed && !transformed) return null;
    at = transformed?.to ?? at;
    unpacked += (transformed ?? original).value;
  }
  if (unpacked > FONT_UNPACKED_MAX || length === 0 || at + length > bytes.length) return null;
  return { from: at, length, unpacked };
}

/** A number of up to five bytes, seven bits each, the last without its upper bit (4.1, UIntBase128). */
function readBase128(
  bytes: Uint8Array,
  from: number,
): { readonly value: number; readonly to: number } | null {
  let value = 0;
  for (let i = 0; i < 5; i++) {
    const byte = bytes[from + i];
    if (byte === undefined || (i === 0 && byte === 0x80)) return null;
    value = value * 128 + (byte & 0x7f);
    if (value > 0xffffffff) return null;
    if ((byte & 0x80) === 0) return { value, to: from + i + 1 };
  }
  return null;
}
