import { unwrapTime, type FlvTag, TAG } from '../flv/flv';
import { decodeAmf, encodeAmf, type AmfObject, type AmfValue } from './amf0';
import { ChunkReader, encodeMessage, MAX_MESSAGE_BYTES, MESSAGE, type RtmpMessage } from './chunks';
import { HANDSHAKE_BYTES, NONCE_BYTES, RTMP_VERSION } from './handshake';

/**
 * The side of RTMP that takes a stream, without its connection: bytes that came go in, bytes to be sent and what
 * happened come out. Adobe's Real Time Messaging Protocol 1.0: 5.2 (handshake), 7.2 (commands). Of Enhanced RTMP it says
 * which codecs it knows, so that an encoder can choose; the bodies of tags are read elsewhere.
 *
 * Nothing of media is taken before somebody has said yes to the key.
 */
export type ReceiverEvent =
  /** The other side wants to publish: {@link RtmpReceiver.accept} or {@link RtmpReceiver.refuse} is the answer. */
  | { readonly type: 'asks'; readonly app: string; readonly key: string }
  /** A frame, a configuration or metadata; its time goes on where the 32 bits wrap. */
  | { readonly type: 'tag'; readonly tag: FlvTag }
  /** The other side says that it is over. */
  | { readonly type: 'goodbye' };

export interface ReceiverStep {
  readonly send: readonly Uint8Array[];
  readonly events: readonly ReceiverEvent[];
}

/** What may be said before the key was taken: commands, not media. */
const STRANGER_MOST_BYTES = 16 * 1024;
/** More commands than any encoder has to say. */
const STRANGER_MOST_MESSAGES = 64;
/** How far the other side may send ahead of what we say has come (5.4.4). */
const WINDOW_BYTES = 2_500_000;
const OUR_CHUNK_BYTES = 4096;
/** Until we say otherwise (5.4.1). */
const FIRST_CHUNK_BYTES = 128;
const STREAM = 1;
const LONGEST_NAME = 512;
/** Codecs of Enhanced RTMP that can be named and judged. */
const FOUR_CCS = ['avc1', 'hvc1', 'av01', 'vp09'] as const;

type Phase = 'handshake' | 'meeting' | 'asking' | 'publishing' | 'over';

export class RtmpReceiver {
  private phase: Phase = 'handshake';
  private handshake: Uint8Array = new Uint8Array(0);
  private hasAnswered = false;
  private readonly reader = new ChunkReader(STRANGER_MOST_BYTES);
  private app = '';
  private messages = 0;
  private received = 0;
  private receivedTold = 0;
  private lastMs = 0;
  private chunkBytes = FIRST_CHUNK_BYTES;

  /** @param nonce 1,528 random bytes of the handshake */
  constructor(private readonly nonce: Uint8Array) {
    if (nonce.length !== NONCE_BYTES) throw new RangeError(`nonce must have ${NONCE_BYTES} bytes`);
  }

  /** Throws a RangeError on what is not RTMP, or more than a stranger may say; the connection should then be closed. */
  receive(bytes: Uint8Array): ReceiverStep {
    const send: Uint8Array[] = [];
    const events: ReceiverEvent[] = [];
    if (this.phase === 'over') return { send, events };
    let rest = bytes;
    if (this.phase === 'handshake') {
      const after = this.shakeHands(bytes, send);
      if (after === null) return { send, events };
      rest = after;
    }
    this.received += rest.length;
    for (const message of this.reader.push(rest)) this.take(message, send, events);
    if (this.received - this.receivedTold > WINDOW_BYTES / 2) {
      this.receivedTold = this.received;
      send.push(this.control(MESSAGE.acknowledgement, this.received));
    }
    return { send, events };
  }

  /** Yes to what was asked: media may come. */
  accept(): Uint8Array[] {
    if (this.phase !== 'asking') return [];
    this.phase = 'publishing';
    this.reader.mostBytes = MAX_MESSAGE_BYTES;
    return [this.status('status', 'NetStream.Publish.Start', 'This stream is taken.')];
  }

  /** No to what was asked, in words. The connection should be ended once they are sent. */
  refuse(code: 'NetStream.Publish.BadName' | 'NetStream.Publish.Rejected', says: string): Uint8Array[] {
    if (this.phase !== 'asking') return [];
    this.phase = 'over';
    return [this.status('error', code, says)];
  }

  /** Ends a stream that was taken, in words. */
  end(says: string): Uint8Array[] {
    if (this.phase !== 'publishing') return [];
    this.phase = 'over';
    return [this.status('error', 'NetStream.Unpublish.Success', says)];
  }

  /** Null: more has to come first. */
  private shakeHands(bytes: Uint8Array, send: Uint8Array[]): Uint8Array | null {
    const all = new Uint8Array(this.handshake.length + bytes.length);
    all.set(this.handshake);
    all.set(bytes, this.handshake.length);
    this.handshake = all;
    if (all.length > 0 && all[0] !== RTMP_VERSION) throw new RangeError('not RTMP');
    if (!this.hasAnswered && all.length >= 1 + HANDSHAKE_BYTES) {
      this.hasAnswered = true;
      // S0, S1, and S2, which gives C1 back.
      const own = new Uint8Array(1 + HANDSHAKE_BYTES);
      own[0] = RTMP_VERSION;
      own.set(this.nonce, 9);
      send.push(own, all.slice(1, 1 + HANDSHAKE_BYTES));
    }
    if (all.length < 1 + 2 * HANDSHAKE_BYTES) return null;
    this.handshake = new Uint8Array(0);
    this.phase = 'meeting';
    return all.slice(1 + 2 * HANDSHAKE_BYTES);
  }

  private take(message: RtmpMessage, send: Uint8Array[], events: ReceiverEvent[]): void {
    const { type, payload } = message;
    if (this.phase !== 'publishing') {
      this.messages += 1;
      if (this.messages > STRANGER_MOST_MESSAGES) throw new RangeError('more talk than any encoder has');
    }
    if (type === MESSAGE.command) this.obey(decodeAmf(payload), send, events);
    else if (type === MESSAGE.userControl) this.answerPing(payload, send);
    else if (this.phase === 'publishing' && isMedia(type)) events.push(this.tagOf(message, type));
  }

  private tagOf({ timeMs, payload }: RtmpMessage, kind: FlvTag['kind']): ReceiverEvent {
    this.lastMs = unwrapTime(timeMs, this.lastMs);
    return { type: 'tag', tag: { kind, timeMs: this.lastMs, body: payload } };
  }

  private answerPing(payload: Uint8Array, send: Uint8Array[]): void {
    const view = new DataView(payload.buffer, payload.byteOffset, payload.byteLength);
    if (payload.length < 6 || view.getUint16(0) !== PING) return;
    const pong = payload.slice(0, 6);
    new DataView(pong.buffer).setUint16(0, PONG);
    send.push(this.message(2, MESSAGE.userControl, 0, pong));
  }

  private obey(values: readonly AmfValue[], send: Uint8Array[], events: ReceiverEvent[]): void {
    const [name, id, about, key] = values;
    switch (name) {
      case 'connect':
        this.app = textOf(isObject(about) ? about['app'] : '').replace(/^\/+|\/+$/g, '');
        send.push(
          this.control(MESSAGE.windowSize, WINDOW_BYTES),
          this.control(MESSAGE.peerBandwidth, WINDOW_BYTES),
        );
        send.push(this.control(MESSAGE.setChunkSize, OUR_CHUNK_BYTES));
        this.chunkBytes = OUR_CHUNK_BYTES;
        send.push(
          this.command(
            0,
            '_result',
            id,
            { fmsVer: 'juncta/1,0', capabilities: 31, fourCcList: FOUR_CCS },
            {
              level: 'status',
              code: 'NetConnection.Connect.Success',
              description: 'Welcome.',
              objectEncoding: 0,
            },
          ),
        );
        break;
      case 'createStream':
        send.push(this.command(0, '_result', id, null, STREAM));
        break;
      case 'releaseStream':
      case 'FCPublish':
        // Some encoders wait for an answer, though none is laid down.
        send.push(this.command(0, '_result', id, null));
        break;
      case 'publish':
        if (this.phase !== 'meeting') throw new RangeError('a second publish over one connection');
        this.phase = 'asking';
        events.push({ type: 'asks', app: this.app, key: textOf(key) });
        break;
      case 'FCUnpublish':
      case 'deleteStream':
      case 'closeStream':
        if (this.phase !== 'publishing') break;
        this.phase = 'over';
        events.push({ type: 'goodbye' });
        break;
    }
  }

  private status(level: string, code: string, description: string): Uint8Array {
    return this.command(STREAM, 'onStatus', 0, null, { level, code, description });
  }

  private control(type: number, value: number): Uint8Array {
    const payload = new Uint8Array(type === MESSAGE.peerBandwidth ? 5 : 4);
    new DataView(payload.buffer).setUint32(0, value >>> 0);
    // Dynamic: the limit is a wish (5.4.5).
    if (type === MESSAGE.peerBandwidth) payload[4] = 2;
    return this.message(2, type, 0, payload);
  }

  private command(stream: number, ...values: AmfValue[]): Uint8Array {
    return this.message(3, MESSAGE.command, stream, encodeAmf(...values));
  }

  private message(chunkStream: number, type: number, stream: number, payload: Uint8Array): Uint8Array {
    return encodeMessage({ chunkStream, type, stream, timeMs: 0, payload }, this.chunkBytes);
  }
}

const PING = 6;
const PONG = 7;

const isMedia = (type: number): type is FlvTag['kind'] => Object.values<number>(TAG).includes(type);
const textOf = (value: AmfValue): string => (typeof value === 'string' ? value.slice(0, LONGEST_NAME) : '');
const isObject = (value: AmfValue): value is AmfObject =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
