import type { FramedFormat } from '../packets/resync-reader';
import { configurationRecord, withLengths, type ParameterSets } from '../h264/h264';

/**
 * FLV: the tags that RTMP carries and that a file is made of. Adobe Flash Video File Format Specification 10.1,
 * annex E. Only what a programme needs: H.264 video, AAC audio, and metadata.
 */

export const TAG = { audioFrame: 8, videoFrame: 9, data: 18 } as const;
export type TagKind = (typeof TAG)[keyof typeof TAG];

export interface FlvTag {
  readonly kind: TagKind;
  /** ms on the timeline of the stream, as a tag carries it: modulo 2^32 (E.4.1). */
  readonly timeMs: number;
  readonly body: Uint8Array;
}

/** Times wrap here; FLV keeps 24 bits and 8 more of extension. */
export const TIME_MODULUS = 2 ** 32;

const HEADER_BYTES = 9;
const TAG_HEADER_BYTES = 11;
const BACK_POINTER_BYTES = 4;
/** A tag's length has 24 bits. */
export const MAX_BODY_BYTES = 0xff_ffff;

/** The header of a file with audio and video, and the empty back pointer after it (E.2, E.3). */
export const FLV_HEADER = flvHeader({ hasAudio: true });

/** The same; without audio, a reader does not wait for any. */
export function flvHeader({ hasAudio }: { hasAudio: boolean }): Uint8Array {
  return Uint8Array.from([0x46, 0x4c, 0x56, 1, hasAudio ? 5 : 1, 0, 0, 0, HEADER_BYTES, 0, 0, 0, 0]);
}

/** First bytes of bodies: codec and kind of packet (E.4.2.1, E.4.3.1). Audio says 44.1 kHz for AAC, whatever it has. */
const AAC = 0xaf;
const AVC_KEY = 0x17;
const AVC_INTER = 0x27;
const CONFIGURATION = 0;
const PACKET = 1;

/** What a decoder needs before the first frame. */
export function videoConfigurationTag(sets: ParameterSets, timeMs: number): FlvTag {
  const body = Uint8Array.from([AVC_KEY, CONFIGURATION, 0, 0, 0, ...configurationRecord(sets)]);
  return { kind: TAG.videoFrame, timeMs, body };
}

/**
 * A frame, from its units. Our frames are shown in the order in which they are decoded, so the composition
 * offset is always 0.
 */
export function videoTag(units: readonly Uint8Array[], key: boolean, timeMs: number): FlvTag {
  const data = withLengths(units);
  const body = new Uint8Array(5 + data.length);
  body[0] = key ? AVC_KEY : AVC_INTER;
  body[1] = PACKET;
  body.set(data, 5);
  return { kind: TAG.videoFrame, timeMs, body };
}

/** `config` is an AudioSpecificConfig: ISO/IEC 14496-3, 1.6.2.1. */
export function audioConfigurationTag(config: Uint8Array, timeMs: number): FlvTag {
  return { kind: TAG.audioFrame, timeMs, body: Uint8Array.from([AAC, CONFIGURATION, ...config]) };
}

/** One AAC frame, without ADTS header. */
export function audioTag(frame: Uint8Array, timeMs: number): FlvTag {
  const body = new Uint8Array(2 + frame.length);
  body[0] = AAC;
  body[1] = PACKET;
  body.set(frame, 2);
  return { kind: TAG.audioFrame, timeMs, body };
}

/** Whether a decoder can begin at this tag: a frame that needs none before it. */
export const isKeyframe = ({ kind, body }: FlvTag): boolean =>
  kind === TAG.videoFrame && body[0] === AVC_KEY && body[1] === PACKET;

export const isConfiguration = ({ kind, body }: FlvTag): boolean =>
  kind !== TAG.data && body[1] === CONFIGURATION;

/** A tag as it stands in a file, its back pointer included. Throws a RangeError on a body that is too long. */
export function encodeTag({ kind, timeMs, body }: FlvTag): Uint8Array {
  if (body.length > MAX_BODY_BYTES)
    throw new RangeError(`a tag's body must have at most ${MAX_BODY_BYTES} bytes`);
  if (!Number.isSafeInteger(timeMs) || timeMs < 0)
    throw new RangeError('timeMs must be a whole number of 0 or more');
  const bytes = new Uint8Array(TAG_HEADER_BYTES + body.length + BACK_POINTER_BYTES);
  const view = new DataView(bytes.buffer);
  const time = timeMs % TIME_MODULUS;
  // Kind and length share four bytes; the time's upper eight bits stand behind its lower 24.
  view.setUint32(0, ((kind << 24) | body.length) >>> 0);
  view.setUint32(4, ((time << 8) | (time >>> 24)) >>> 0);
  bytes.set(body, TAG_HEADER_BYTES);
  view.setUint32(TAG_HEADER_BYTES + body.length, TAG_HEADER_BYTES + body.length);
  return bytes;
}

export interface DecodedTags {
  readonly tags: readonly FlvTag[];
  /** Bytes that were used up; the rest is the beginning of a tag, or what `problem` is about. */
  readonly consumed: number;
  readonly problem: 'not_flv' | 'unknown_tag' | 'wrong_back_pointer' | null;
}

/** Reads the whole tags of a file from its beginning, header included. Bodies are views into `bytes`. */
export function decodeFile(bytes: Uint8Array): DecodedTags {
  const known = Math.min(bytes.length, 3);
  const isFlv = FLV_HEADER.subarray(0, known).every((byte, i) => bytes[i] === byte);
  if (!isFlv) return { tags: [], consumed: 0, problem: 'not_flv' };
  if (bytes.length < FLV_HEADER.length) return { tags: [], consumed: 0, problem: null };
  const { tags, consumed, problem } = decodeTags(bytes.subarray(FLV_HEADER.length));
  return { tags, consumed: consumed + FLV_HEADER.length, problem };
}

/** Reads the whole tags at the start of `bytes`. */
export function decodeTags(bytes: Uint8Array): DecodedTags {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tags: FlvTag[] = [];
  let at = 0;
  const stop = (problem: DecodedTags['problem']): DecodedTags => ({ tags, consumed: at, problem });
  while (bytes.length - at >= TAG_HEADER_BYTES) {
    const kind = bytes[at]!;
    if (!isTagKind(kind)) return stop('unknown_tag');
    const length = view.getUint32(at) & MAX_BODY_BYTES;
    const end = at + TAG_HEADER_BYTES + length;
    if (bytes.length < end + BACK_POINTER_BYTES) return stop(null);
    if (view.getUint32(end) !== TAG_HEADER_BYTES + length) return stop('wrong_back_pointer');
    const time = view.getUint32(at + 4);
    const timeMs = ((time >>> 8) | ((time & 0xff) << 24)) >>> 0;
    tags.push({ kind, timeMs, body: bytes.subarray(at + TAG_HEADER_BYTES, end) });
    at = end + BACK_POINTER_BYTES;
  }
  return stop(null);
}

/** Longer than any tag of a programme, and shorter than what random bytes mostly claim. */
const LONGEST_BODY_BYTES = 4 * 1024 * 1024;

/**
 * The tags of a file, behind its header: see `ResyncReader`. A tag has no mark of its own: it is known by its kind, its
 * stream id of 0 and the back pointer behind it.
 */
export const TAG_FORMAT: FramedFormat<FlvTag> = {
  decode(bytes) {
    const { tags, consumed, problem } = decodeTags(bytes);
    return { items: tags, consumed, isBroken: problem !== null || claimsTooMuch(bytes, consumed) };
  },
  sizeOf: ({ body }) => TAG_HEADER_BYTES + body.length + BACK_POINTER_BYTES,
  findStart(bytes, from) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    for (let at = from; at + TAG_HEADER_BYTES <= bytes.length; at++) {
      if (!isTagKind(bytes[at]!) || (view.getUint32(at + 7) & 0xff_ffff) !== 0) continue;
      const length = view.getUint32(at) & MAX_BODY_BYTES;
      const end = at + TAG_HEADER_BYTES + length;
      if (length > LONGEST_BODY_BYTES) continue;
      if (end + BACK_POINTER_BYTES > bytes.length || view.getUint32(end) === TAG_HEADER_BYTES + length)
        return at;
    }
    return -1;
  },
  startBytes: TAG_HEADER_BYTES - 1,
};

function claimsTooMuch(bytes: Uint8Array, at: number): boolean {
  if (bytes.length - at < 4) return false;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return (view.getUint32(at) & MAX_BODY_BYTES) > LONGEST_BODY_BYTES;
}

function isTagKind(kind: number): kind is TagKind {
  return kind === TAG.audioFrame || kind === TAG.videoFrame || kind === TAG.data;
}

/**
 * The time on an unbroken timeline of a tag's time that may have wrapped: the one nearest to `lastMs`, which
 * itself is on that timeline. Good for gaps and steps back of up to 24 days.
 */
export function unwrapTime(timeMs: number, lastMs: number): number {
  const turns = Math.round((lastMs - timeMs) / TIME_MODULUS);
  return timeMs + Math.max(0, turns) * TIME_MODULUS;
}
