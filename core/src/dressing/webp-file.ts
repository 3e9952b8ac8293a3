import { MOVING_OVERLAY, OVERLAY_MAX_MS } from './overlay';

/** What a WebP file of pictures that move says of itself. */
export interface MovingPicture {
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly lengthMs: number;
}

const [HEAD_BYTES, CHUNK_HEAD_BYTES, FRAME_HEAD_BYTES] = [12, 8, 16];
/** Of the header: the file moves (RFC 9649, 2.7). */
const ANIMATION_FLAG = 0x02;
/** Nothing hides in a file that has these alone. */
const WITHIN_FRAME = ['ALPH', 'VP8 ', 'VP8L'];
const MOST_FRAMES = Math.ceil((OVERLAY_MAX_MS / 1000) * MOVING_OVERLAY.rateHz) + 1;

/**
 * Reads the frames' directory of a WebP file that moves (RFC 9649); null: it is none, contradicts itself, holds anything but
 * pictures, or is larger, longer or quicker than an overlay may be. The pictures are not decoded.
 */
export function readMovingPicture(bytes: Uint8Array): MovingPicture | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < HEAD_BYTES || nameAt(view, 0) !== 'RIFF' || nameAt(view, 8) !== 'WEBP') return null;
  if (view.getUint32(4, true) !== bytes.length - 8) return null;
  const chunks = chunksIn(view, HEAD_BYTES, bytes.length);
  const [head, loops, ...frames] = chunks ?? [];
  if (head?.name !== 'VP8X' || head.length !== 10 || loops?.name !== 'ANIM' || frames.length === 0)
    return null;
  if ((view.getUint8(head.from) & ANIMATION_FLAG) === 0) return null;
  const [width, height] = [uint24(view, head.from + 4) + 1, uint24(view, head.from + 7) + 1];
  if (width > MOVING_OVERLAY.width || height > MOVING_OVERLAY.height || frames.length > MOST_FRAMES)
    return null;
  let lengthMs = 0;
  for (const { name, from, length } of frames) {
    if (name !== 'ANMF' || length < FRAME_HEAD_BYTES) return null;
    const within = chunksIn(view, from + FRAME_HEAD_BYTES, from + length);
    if (!within || within.length === 0 || within.some((one) => !WITHIN_FRAME.includes(one.name))) return null;
    const [x, y] = [2 * uint24(view, from), 2 * uint24(view, from + 3)];
    const [wide, high] = [uint24(view, from + 6) + 1, uint24(view, from + 9) + 1];
    if (x + wide > width || y + high > height) return null;
    lengthMs += uint24(view, from + 12);
  }
  return lengthMs === 0 || lengthMs > OVERLAY_MAX_MS
    ? null
    : { width, height, frames: frames.length, lengthMs };
}

interface Chunk {
  readonly name: string;
  /** Of what is in it. */
  readonly from: number;
  readonly length: number;
}

/** Null: the last one breaks off. */
function chunksIn(view: DataView, from: number, to: number): Chunk[] | null {
  const chunks: Chunk[] = [];
  let at = from;
  while (at < to) {
    if (at + CHUNK_HEAD_BYTES > to) return null;
    const length = view.getUint32(at + 4, true);
    chunks.push({ name: nameAt(view, at), from: at + CHUNK_HEAD_BYTES, length });
    at += CHUNK_HEAD_BYTES + length + (length % 2);
  }
  return at === to ? chunks : null;
}

const nameAt = (view: DataView, at: number): string =>
  String.fromCharCode(view.getUint8(at), view.getUint8(at + 1), view.getUint8(at + 2), view.getUint8(at + 3));

const uint24 = (view: DataView, at: number): number =>
  view.getUint16(at, true) + view.getUint8(at + 2) * 0x10000;
