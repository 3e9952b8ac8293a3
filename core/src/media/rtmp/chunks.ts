/**
 * RTMP's chunk stream: messages cut into chunks, those of several streams in turn. Adobe's Real Time Messaging
 * Protocol 1.0, 5.3 and 5.4.
 */
export interface RtmpMessage {
  /** Which stream of chunks carries it, 2 to 65,599; 2 is for the protocol itself. */
  readonly chunkStream: number;
  /** See {@link MESSAGE}. */
  readonly type: number;
  /** Which of the connection's streams it belongs to; 0 is the connection itself. */
  readonly stream: number;
  /** ms, modulo 2^32. */
  readonly timeMs: number;
  readonly payload: Uint8Array;
}

export const MESSAGE = {
  setChunkSize: 1,
  abort: 2,
  acknowledgement: 3,
  userControl: 4,
  windowSize: 5,
  peerBandwidth: 6,
  audioFrame: 8,
  videoFrame: 9,
  data: 18,
  command: 20,
} as const;

/** Until the sender says otherwise (5.4.1). */
export const FIRST_CHUNK_BYTES = 128;
/** What we cut into once we have said so: large enough that headers do not count, small enough to take turns. */
export const OUR_CHUNK_BYTES = 4096;
/** A message's length has 24 bits. Nothing we take comes near; a sender that claims more is refused at its word. */
export const MAX_MESSAGE_BYTES = 8 * 1024 * 1024;
/** So many streams of chunks may be open at once; senders use a handful. */
const MAX_STREAMS = 64;

const EXTENDED = 0xff_ffff;
const TIME_MODULUS = 2 ** 32;

/**
 * The chunks of a message, each with its header. Every message begins with a full header: eleven bytes more than the
 * shortest, and no state that a lost message could leave wrong.
 */
export function encodeMessage(message: RtmpMessage, chunkBytes: number): Uint8Array {
  const parts = messageParts(message, chunkBytes);
  const bytes = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  parts.reduce((at, part) => (bytes.set(part, at), at + part.length), 0);
  return bytes;
}

/** The same without copying the payload: headers, and views into it, in turn. */
export function messageParts(message: RtmpMessage, chunkBytes: number): Uint8Array[] {
  const { chunkStream, type, stream, timeMs, payload } = message;
  if (payload.length > MAX_MESSAGE_BYTES)
    throw new RangeError(`a message must have at most ${MAX_MESSAGE_BYTES} bytes`);
  if (!(chunkBytes >= 1)) throw new RangeError('chunkBytes must be 1 or more');
  const time = timeMs % TIME_MODULUS;
  const extended = time >= EXTENDED;
  const basic = basicHeader(0, chunkStream);
  const first = new Uint8Array(basic.length + 11 + (extended ? 4 : 0));
  const view = new DataView(first.buffer);
  // Three bytes of time, three of length, the type, and the stream, which alone has its least byte first.
  view.setUint32(basic.length - 1, extended ? EXTENDED : time);
  view.setUint32(basic.length + 3, ((payload.length << 8) | type) >>> 0);
  view.setUint32(basic.length + 7, stream, true);
  if (extended) view.setUint32(basic.length + 11, time);
  first.set(basic);
  const parts: Uint8Array[] = [first];
  let next: Uint8Array | undefined;
  for (let from = 0; from < payload.length; from += chunkBytes) {
    if (from > 0) {
      next ??= Uint8Array.from([...basicHeader(3, chunkStream), ...(extended ? bigEndian(time, 4) : [])]);
      parts.push(next);
    }
    parts.push(payload.subarray(from, from + chunkBytes));
  }
  return parts;
}

interface Stream {
  type: number;
  stream: number;
  timeMs: number;
  deltaMs: number;
  extended: boolean;
  length: number;
  /** What has come of the message under way; empty between messages. */
  parts: Uint8Array[];
  received: number;
}

/**
 * Reads messages from bytes that come in whatever packets. Follows the sender's changes of chunk size by itself.
 * `push` throws a RangeError on what no sender in its senses sends; the connection should then be closed.
 */
export class ChunkReader {
  private rest: Uint8Array = new Uint8Array(0);
  private chunkBytes = FIRST_CHUNK_BYTES;
  private readonly streams = new Map<number, Stream>();
  /** Bytes of messages that are not whole yet. */
  private underWay = 0;

  /** @param mostBytes the longest message that is taken; may be raised for a sender that has shown who it is */
  constructor(public mostBytes = MAX_MESSAGE_BYTES) {}

  /** The messages that are whole now. */
  push(bytes: Uint8Array): RtmpMessage[] {
    const all = new Uint8Array(this.rest.length + bytes.length);
    all.set(this.rest);
    all.set(bytes, this.rest.length);
    const messages: RtmpMessage[] = [];
    let at = 0;
    for (;;) {
      const used = this.readChunk(all.subarray(at), messages);
      if (used === 0) break;
      at += used;
    }
    this.rest = all.subarray(at);
    return messages;
  }

  /** How many bytes the first chunk took; 0 when it is not whole yet. */
  private readChunk(bytes: Uint8Array, messages: RtmpMessage[]): number {
    const basic = readBasicHeader(bytes);
    if (!basic) return 0;
    const { format, chunkStream } = basic;
    const before = this.streams.get(chunkStream);
    if (!before && format !== 0) throw new RangeError('a stream of chunks that begins in the middle');
    if (!before && this.streams.size >= MAX_STREAMS) throw new RangeError('too many streams of chunks');
    const header = readMessageHeader(bytes, basic.size, format, before);
    if (!header) return 0;
    const { state, size } = header;
    if (state.length > this.mostBytes) throw new RangeError('a message that claims to be too long');
    const end = size + Math.min(this.chunkBytes, state.length - state.received);
    if (bytes.length < end) return 0;
    state.parts.push(bytes.slice(size, end));
    state.received += end - size;
    this.streams.set(chunkStream, state);
    this.underWay += end - size;
    // Many streams, each with a message that is never ended.
    if (this.underWay > 2 * this.mostBytes) throw new RangeError('too much under way at once');
    if (state.received === state.length) this.finish(chunkStream, state, messages);
    return end;
  }

  private finish(chunkStream: number, state: Stream, messages: RtmpMessage[]): void {
    const payload = new Uint8Array(state.length);
    state.parts.reduce((at, part) => (payload.set(part, at), at + part.length), 0);
    this.underWay -= state.received;
    state.parts = [];
    state.received = 0;
    const { type, stream, timeMs } = state;
    if (type === MESSAGE.setChunkSize && payload.length >= 4) {
      const wanted = new DataView(payload.buffer).getUint32(0) & 0x7fff_ffff;
      if (wanted < 1) throw new RangeError('a chunk size of 0');
      this.chunkBytes = Math.min(wanted, MAX_MESSAGE_BYTES);
    }
    messages.push({ chunkStream, type, stream, timeMs, payload });
  }
}

function readBasicHeader(bytes: Uint8Array): { format: number; chunkStream: number; size: number } | null {
  if (bytes.length < 1) return null;
  const [format, low] = [bytes[0]! >> 6, bytes[0]! & 0x3f];
  if (low >= 2) return { format, chunkStream: low, size: 1 };
  if (bytes.length < 2 + low) return null;
  const chunkStream = 64 + bytes[1]! + (low === 1 ? bytes[2]! * 256 : 0);
  return { format, chunkStream, size: 2 + low };
}

/** Bytes of the message header by format: 5.3.1.2. */
const MESSAGE_HEADER_BYTES = [11, 7, 3, 0] as const;

function readMessageHeader(
  bytes: Uint8Array,
  from: number,
  format: number,
  before: Stream | undefined,
): { state: Stream; size: number } | null {
  const fixed = from + MESSAGE_HEADER_BYTES[format]!;
  if (bytes.length < fixed) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const short = format === 3 ? null : view.getUint32(from - 1) & EXTENDED;
  const extended = short === null ? before!.extended : short === EXTENDED;
  const size = fixed + (extended ? 4 : 0);
  if (bytes.length < size) return null;
  const continues = format === 3 && before!.received > 0;
  if (before && before.received > 0 && !continues)
    throw new RangeError('a message within another of its stream');
  if (continues) return { state: before!, size };

  const given = short === null ? before!.deltaMs : extended ? view.getUint32(fixed) : short;
  const timeMs = format === 0 ? given : (before!.timeMs + given) % TIME_MODULUS;
  const named = format <= 1;
  return {
    size,
    state: {
      type: named ? bytes[from + 6]! : before!.type,
      stream: format === 0 ? view.getUint32(from + 7, true) : before!.stream,
      timeMs,
      // After a full header a short one repeats its time as the distance (5.3.1.2.4).
      deltaMs: given,
      extended,
      length: named ? view.getUint32(from + 2) & EXTENDED : before!.length,
      parts: [],
      received: 0,
    },
  };
}

function basicHeader(format: number, chunkStream: number): number[] {
  if (!Number.isInteger(chunkStream) || chunkStream < 2 || chunkStream > 65_599) {
    throw new RangeError('chunkStream must be a whole number from 2 to 65,599');
  }
  if (chunkStream < 64) return [(format << 6) | chunkStream];
  const far = chunkStream - 64;
  return far < 256 ? [format << 6, far] : [(format << 6) | 1, far & 0xff, far >> 8];
}

function bigEndian(value: number, bytes: number): number[] {
  return Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** (bytes - 1 - i)) % 256);
}
