import { decodeAmf, encodeAmf, type AmfObject, type AmfValue } from './amf0';
import type { RtmpAddress } from './address';
import { ChunkReader, encodeMessage, MESSAGE, type RtmpMessage } from './chunks';
import { HANDSHAKE_BYTES, NONCE_BYTES, RTMP_VERSION } from './handshake';

/**
 * The side of RTMP that publishes, without its connection: bytes that came go in, bytes to be sent and what
 * happened come out. Adobe's Real Time Messaging Protocol 1.0: 5.2 (handshake), 7.2 (commands).
 */
export type PublisherEvent =
  /** The other side takes our stream: media may follow. */
  | { readonly type: 'publishing' }
  | { readonly type: 'refused'; readonly reason: RtmpRefusal; readonly placeSays: string }
  /** The other side ended an accepted stream with a word. */
  | { readonly type: 'ended_there'; readonly placeSays: string }
  /** It has received so many bytes of the whole connection. */
  | { readonly type: 'acknowledged'; readonly bytes: number };

export interface PublisherStep {
  readonly send: readonly Uint8Array[];
  readonly events: readonly PublisherEvent[];
}

/**
 * What we cut media into. Nearly every frame of a programme is one chunk, so that many feeds can share its bytes;
 * receivers take far more.
 */
export const PUBLISH_CHUNK_BYTES = 65_536;
const CHUNK_STREAM = { protocol: 2, command: 3, publish: 4, audioFrame: 5, videoFrame: 6 } as const;
const CONNECT = 1;
const CREATE_STREAM = 4;
/** What a place says of itself is shown to people: a sentence, not a page. */
const MOST_SAID = 200;

type Phase = 'handshake' | 'connecting' | 'creating' | 'asking' | 'publishing' | 'over';

export class RtmpPublisher {
  private phase: Phase = 'handshake';
  private handshake: Uint8Array = new Uint8Array(0);
  private readonly reader = new ChunkReader();
  private stream = 0;
  private received = 0;
  private receivedTold = 0;
  private window = 2_500_000;

  /** @param nonce 1,528 random bytes of the handshake */
  constructor(
    private readonly address: RtmpAddress,
    private readonly key: string,
    private readonly nonce: Uint8Array,
  ) {
    if (nonce.length !== NONCE_BYTES) throw new RangeError(`nonce must have ${NONCE_BYTES} bytes`);
  }

  /** The stream's number at the other side, once it is publishing. */
  get streamId(): number {
    return this.stream;
  }

  /** C0 and C1: what is said first. */
  begin(): Uint8Array {
    const bytes = new Uint8Array(1 + HANDSHAKE_BYTES);
    bytes[0] = RTMP_VERSION;
    bytes.set(this.nonce, 9);
    return bytes;
  }

  /** Throws a RangeError on what is not RTMP; the connection should then be closed. */
  receive(bytes: Uint8Array): PublisherStep {
    const send: Uint8Array[] = [];
    const events: PublisherEvent[] = [];
    let rest = bytes;
    if (this.phase === 'handshake') {
      const after = this.shakeHands(rest, send);
      if (after === null) return { send, events };
      rest = after;
    }
    this.received += rest.length;
    for (const message of this.reader.push(rest)) this.take(message, send, events);
    if (this.received - this.receivedTold > this.window / 2) {
      this.receivedTold = this.received;
      send.push(this.control(MESSAGE.acknowledgement, this.received));
    }
    return { send, events };
  }

  /** What ends the stream in good order. */
  finish(): Uint8Array[] {
    if (this.phase !== 'publishing') return [];
    this.phase = 'over';
    return [
      this.command(CHUNK_STREAM.command, 0, 'FCUnpublish', 6, null, this.key),
      this.command(CHUNK_STREAM.command, 0, 'deleteStream', 7, null, this.stream),
    ];
  }

  private shakeHands(bytes: Uint8Array, send: Uint8Array[]): Uint8Array | null {
    const all = new Uint8Array(this.handshake.length + bytes.length);
    all.set(this.handshake);
    all.set(bytes, this.handshake.length);
    this.handshake = all;
    if (all.length > 0 && all[0] !== RTMP_VERSION) throw new RangeError('not RTMP: another version answered');
    if (all.length < 1 + 2 * HANDSHAKE_BYTES) return null;
    // C2 gives S1 back.
    send.push(all.slice(1, 1 + HANDSHAKE_BYTES));
    this.handshake = new Uint8Array(0);
    this.phase = 'connecting';
    const { app, tcUrl } = this.address;
    const about = { app, type: 'nonprivate', flashVer: 'FMLE/3.0 (compatible; juncta)', tcUrl };
    send.push(this.control(MESSAGE.setChunkSize, PUBLISH_CHUNK_BYTES));
    send.push(this.command(CHUNK_STREAM.command, 0, 'connect', CONNECT, about));
    return all.slice(1 + 2 * HANDSHAKE_BYTES);
  }

  private take(message: RtmpMessage, send: Uint8Array[], events: PublisherEvent[]): void {
    const { type, payload } = message;
    const view = new DataView(payload.buffer, payload.byteOffset, payload.byteLength);
    if (type === MESSAGE.acknowledgement && payload.length >= 4) {
      events.push({ type: 'acknowledged', bytes: view.getUint32(0) });
    } else if (type === MESSAGE.windowSize && payload.length >= 4) {
      this.window = Math.max(1, view.getUint32(0));
    } else if (type === MESSAGE.peerBandwidth && payload.length >= 4) {
      send.push(this.control(MESSAGE.windowSize, view.getUint32(0)));
    } else if (type === MESSAGE.userControl && payload.length >= 6 && view.getUint16(0) === PING) {
      const pong = payload.slice(0, 6);
      new DataView(pong.buffer).setUint16(0, PONG);
      send.push(this.message(CHUNK_STREAM.protocol, MESSAGE.userControl, 0, pong));
    } else if (type === MESSAGE.command) this.takeCommand(decodeAmf(payload), send, events);
  }

  private takeCommand(values: readonly AmfValue[], send: Uint8Array[], events: PublisherEvent[]): void {
    const [name, id] = values;
    if (name === '_result' && id === CONNECT && this.phase === 'connecting') {
      this.phase = 'creating';
      send.push(this.command(CHUNK_STREAM.command, 0, 'releaseStream', 2, null, this.key));
      send.push(this.command(CHUNK_STREAM.command, 0, 'FCPublish', 3, null, this.key));
      send.push(this.command(CHUNK_STREAM.command, 0, 'createStream', CREATE_STREAM, null));
    } else if (name === '_result' && id === CREATE_STREAM && this.phase === 'creating') {
      this.phase = 'asking';
      this.stream = typeof values[3] === 'number' ? values[3] : 1;
      send.push(this.command(CHUNK_STREAM.publish, this.stream, 'publish', 5, null, this.key, 'live'));
    } else if (name === '_error' && (id === CONNECT || id === CREATE_STREAM)) {
      this.refuse(infoOf(values), events);
    } else if (name === 'onStatus') this.takeStatus(infoOf(values), events);
  }

  private takeStatus(info: StatusInfo, events: PublisherEvent[]): void {
    if (info.code === 'NetStream.Publish.Start' && this.phase === 'asking') {
      this.phase = 'publishing';
      events.push({ type: 'publishing' });
    } else if (info.level !== 'error' && !/Rejected|Unpublish|BadName|Denied/.test(info.code)) {
      // A remark in passing.
    } else if (this.phase === 'publishing') {
      this.phase = 'over';
      events.push({ type: 'ended_there', placeSays: this.said(info) });
    } else this.refuse(info, events);
  }

  private refuse(info: StatusInfo, events: PublisherEvent[]): void {
    if (this.phase === 'over') return;
    this.phase = 'over';
    events.push({ type: 'refused', reason: refusalReason(info), placeSays: this.said(info) });
  }

  /** The other side's own words, without the key, should it have repeated it. */
  private said({ code, description }: StatusInfo): string {
    const words = (description || code).replace(/[\u0000-\u001f\u007f]+/g, ' ');
    return (this.key ? words.replaceAll(this.key, '…') : words).slice(0, MOST_SAID);
  }

  private control(type: number, value: number): Uint8Array {
    const window = type === MESSAGE.peerBandwidth ? 5 : 4;
    const payload = new Uint8Array(window);
    new DataView(payload.buffer).setUint32(0, value >>> 0);
    return this.message(CHUNK_STREAM.protocol, type, 0, payload);
  }

  private command(chunkStream: number, stream: number, ...values: AmfValue[]): Uint8Array {
    return this.message(chunkStream, MESSAGE.command, stream, encodeAmf(...values));
  }

  private message(chunkStream: number, type: number, stream: number, payload: Uint8Array): Uint8Array {
    return encodeMessage({ chunkStream, type, stream, timeMs: 0, payload }, PUBLISH_CHUNK_BYTES);
  }
}

const PING = 6;
const PONG = 7;

interface StatusInfo {
  readonly level: string;
  readonly code: string;
  readonly description: string;
}

function infoOf(values: readonly AmfValue[]): StatusInfo {
  const found = values.slice(2).find((value): value is AmfObject => isObject(value) && 'code' in value);
  const text = (name: string) => (typeof found?.[name] === 'string' ? found[name] : '');
  return { level: text('level'), code: text('code'), description: text('description') };
}

const isObject = (value: AmfValue): value is AmfObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

export const RTMP_REFUSALS = ['refused_key', 'refused_busy', 'refused_format', 'refused_other'] as const;
/** Why a server does not take our stream, as far as it says. */
export type RtmpRefusal = (typeof RTMP_REFUSALS)[number];

/** Places have few codes and many words for why they will not have a stream; the words decide first. */
export function refusalReason(info: Pick<StatusInfo, 'code' | 'description'>): RtmpRefusal {
  const words = `${info.code} ${info.description}`.toLowerCase();
  if (/already|in use|busy|duplicate/.test(words)) return 'refused_busy';
  if (/codec|format|resolution|bitrate|profile|unsupported/.test(words)) return 'refused_format';
  if (/key|badname|denied|auth|permission|forbidden|unknown stream|not found|invalid/.test(words)) {
    return 'refused_key';
  }
  return 'refused_other';
}

/** On which stream of chunks each kind of media travels. */
export const MEDIA_CHUNK_STREAM: Readonly<Record<number, number>> = {
  [MESSAGE.audioFrame]: CHUNK_STREAM.audioFrame,
  [MESSAGE.videoFrame]: CHUNK_STREAM.videoFrame,
  [MESSAGE.data]: CHUNK_STREAM.publish,
};
