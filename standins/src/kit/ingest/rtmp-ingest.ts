import { randomBytes } from 'node:crypto';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import type { Logger } from 'pino';
import { readAmf, writeAmf, type Amf } from './amf';

/**
 * The ingest of a made-up place: takes RTMP publishers, and no players. Written apart from what Juncta sends with, so
 * that a misreading of the protocol on one side shows. RTMP 1.0, chapters 5 to 7.
 */

/** What a place makes of a stream that wants in. */
export type Verdict =
  | { readonly ok: true; readonly sink: Sink }
  | { readonly ok: false; readonly code: string; readonly says: string };

/** Whoever takes an accepted stream's tags, as they come. */
export interface Sink {
  tag(kind: number, timeMs: number, body: Buffer): void;
  /** `clean`: the sender said that it was over; otherwise its connection broke. */
  ended(clean: boolean): void;
}

/** Troubles that a rehearsal can cause; each holds until it is taken back. */
export interface IngestFaults {
  /** Connections are accepted and never answered. */
  silent: boolean;
  /** Accepted streams are no longer read. */
  stalled: boolean;
  /** The next connection's stream is cut in the middle of a picture, that many ms after it was accepted. */
  cutAfterMs: number | null;
  /** New streams are refused with these words. */
  refuseSaying: string | null;
}

const HANDSHAKE = 1536;
const MAX_MESSAGE = 16 * 1024 * 1024;
const HANDSHAKE_PATIENCE_MS = 10_000;
const COMMAND = 20;
const DATA = 18;
const SOUND = 8;
const PICTURE = 9;

interface ChunkState {
  type: number;
  length: number;
  time: number;
  delta: number;
  extended: boolean;
  got: Buffer[];
  gotBytes: number;
}

export class RtmpIngest {
  private readonly server: Server;
  private readonly open = new Set<Publisher>();
  private readonly far: Server[] = [];

  constructor(
    readonly faults: IngestFaults,
    /** The app and the key, as the sender gave them. `drop` closes this sender's connection, with a word. */
    readonly judge: (app: string, key: string, drop: (says: string) => void) => Verdict,
    readonly log: Logger,
  ) {
    this.server = createServer((socket) => {
      const publisher = new Publisher(socket, this, () => this.open.delete(publisher));
      this.open.add(publisher);
    });
    this.server.maxConnections = 100;
  }

  listen(port: number): Promise<void> {
    return new Promise((done, failed) => {
      this.server.once('error', failed);
      this.server.listen(port, '127.0.0.1', done);
    });
  }

  /** The same ingest at another door, further away: its greeting comes this much later. Gives the door's port. */
  async listenFar(greetAfterMs: number): Promise<number> {
    const server = createServer((socket) => {
      const publisher = new Publisher(socket, this, () => this.open.delete(publisher), greetAfterMs);
      this.open.add(publisher);
    });
    server.maxConnections = 100;
    this.far.push(server);
    await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
    return (server.address() as AddressInfo).port;
  }

  /** Takes over what has been set in {@link faults} for the streams that are open. */
  applyFaults(): void {
    for (const publisher of this.open) publisher.applyFaults();
  }

  /** Breaks every connection, as a cut line would. */
  cutAll(): void {
    for (const publisher of this.open) publisher.cut();
  }

  close(): void {
    for (const server of [this.server, ...this.far]) server.close();
    this.cutAll();
  }
}

class Publisher {
  private buffer: Buffer = Buffer.alloc(0);
  private greeted = false;
  private shaken = false;
  private inChunk = 128;
  private readonly chunks = new Map<number, ChunkState>();
  private app = '';
  private sink: Sink | null = null;
  private saidGoodbye = false;
  private cutting = false;
  private received = 0;
  private acknowledged = 0;
  private readonly late: NodeJS.Timeout;

  constructor(
    private readonly socket: Socket,
    private readonly ingest: RtmpIngest,
    private readonly gone: () => void,
    /** A line that is longer, ms. */
    private readonly greetAfterMs = 0,
  ) {
    socket.setNoDelay(true);
    socket.on('data', (bytes) => this.take(bytes));
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      clearTimeout(this.late);
      this.gone();
      this.sink?.ended(this.saidGoodbye);
      this.sink = null;
    });
    this.late = setTimeout(() => {
      if (!this.sink && !this.ingest.faults.silent) socket.destroy();
    }, HANDSHAKE_PATIENCE_MS);
  }

  applyFaults(): void {
    if (this.sink && this.ingest.faults.stalled) this.socket.pause();
    else this.socket.resume();
  }

  cut(): void {
    this.socket.resetAndDestroy();
  }

  private take(given: Buffer): void {
    if (this.ingest.faults.silent) return;
    // Only half of what came is read, which is the middle of something; then the line is gone.
    const bytes = this.cutting ? given.subarray(0, given.length >> 1) : given;
    if (this.cutting) setImmediate(() => this.cut());
    this.received += bytes.length;
    this.buffer = this.buffer.length === 0 ? bytes : Buffer.concat([this.buffer, bytes]);
    try {
      if (!this.shaken && !this.shakeHands()) return;
      while (this.readChunk());
    } catch (error) {
      this.ingest.log.info({ why: error instanceof Error ? error.message : 'unknown' }, 'not understood');
      this.socket.destroy();
    }
    if (this.received - this.acknowledged > 1_250_000) {
      this.acknowledged = this.received;
      this.control(3, this.received);
    }
  }

  private shakeHands(): boolean {
    if (!this.greeted) {
      if (this.buffer.length < 1 + HANDSHAKE) return false;
      if (this.buffer[0] !== 3) throw new Error('another version');
      const s1 = Buffer.concat([Buffer.alloc(8), randomBytes(HANDSHAKE - 8)]);
      const greeting = Buffer.concat([Buffer.from([3]), s1, this.buffer.subarray(1, 1 + HANDSHAKE)]);
      if (this.greetAfterMs === 0) this.socket.write(greeting);
      else setTimeout(() => this.socket.write(greeting), this.greetAfterMs);
      this.buffer = this.buffer.subarray(1 + HANDSHAKE);
      this.greeted = true;
    }
    if (this.buffer.length < HANDSHAKE) return false;
    this.buffer = this.buffer.subarray(HANDSHAKE);
    this.shaken = true;
    return true;
  }

  /** False: the next chunk has not come whole yet. */
  private readChunk(): boolean {
    const { buffer } = this;
    if (buffer.length < 1) return false;
    let at = 1;
    let stream = buffer[0]! & 63;
    if (stream === 0) {
      if (buffer.length < 2) return false;
      stream = 64 + buffer[1]!;
      at = 2;
    } else if (stream === 1) {
      if (buffer.length < 3) return false;
      stream = 64 + buffer.readUInt16LE(1);
      at = 3;
    }
    const format = buffer[0]! >> 6;
    const headerBytes = [11, 7, 3, 0][format]!;
    if (buffer.length < at + headerBytes) return false;
    const old = this.chunks.get(stream);
    if (!old && format !== 0) throw new Error('a chunk without beginning');
    const state: ChunkState = old ?? {
      type: 0,
      length: 0,
      time: 0,
      delta: 0,
      extended: false,
      got: [],
      gotBytes: 0,
    };
    const fresh = state.gotBytes === 0;
    let stamp = format === 3 ? state.delta : buffer.readUIntBE(at, 3);
    if (format <= 1) {
      state.length = buffer.readUIntBE(at + 3, 3);
      state.type = buffer[at + 6]!;
      if (state.length > MAX_MESSAGE) throw new Error('too long a message');
    }
    at += headerBytes;
    if (format !== 3) state.extended = stamp === 0xffffff;
    if (state.extended) {
      if (buffer.length < at + 4) return false;
      stamp = buffer.readUInt32BE(at);
      at += 4;
    }
    const size = Math.min(this.inChunk, state.length - state.gotBytes);
    if (buffer.length < at + size) return false;
    if (fresh) {
      state.time = format === 0 ? stamp : state.time + stamp;
      state.delta = format === 0 ? 0 : stamp;
    }
    state.got.push(buffer.subarray(at, at + size));
    state.gotBytes += size;
    this.chunks.set(stream, state);
    this.buffer = buffer.subarray(at + size);
    if (state.gotBytes >= state.length) {
      const payload = Buffer.concat(state.got);
      state.got = [];
      state.gotBytes = 0;
      this.message(state.type, state.time, payload);
    }
    return true;
  }

  private message(type: number, timeMs: number, payload: Buffer): void {
    if (type === 1) this.inChunk = Math.max(1, payload.readUInt32BE(0) & 0x7fffffff);
    else if (type === COMMAND) this.command(readAmf(payload));
    else if (type === SOUND || type === PICTURE) this.sink?.tag(type, timeMs, payload);
    else if (type === DATA) {
      // Senders write @setDataFrame before what they describe their stream with.
      const [name] = readAmf(payload);
      const skip = name === '@setDataFrame' ? writeAmf('@setDataFrame').length : 0;
      this.sink?.tag(DATA, timeMs, payload.subarray(skip));
    }
  }

  private command(values: Amf[]): void {
    const [name, id] = values as [string, number];
    if (name === 'connect') {
      const about = values[2] as Record<string, Amf>;
      this.app = typeof about['app'] === 'string' ? about['app'] : '';
      this.control(5, 2_500_000);
      this.control(6, 2_500_000);
      this.reply(
        '_result',
        id,
        { fmsVer: 'FMS/3,0,1,123', capabilities: 31 },
        status('status', 'NetConnection.Connect.Success', 'Connected.'),
      );
    } else if (name === 'createStream') this.reply('_result', id, null, 1);
    else if (name === 'publish') this.publish(typeof values[3] === 'string' ? values[3] : '');
    else if (name === 'deleteStream' || name === 'FCUnpublish' || name === 'closeStream')
      this.saidGoodbye = true;
  }

  private publish(key: string): void {
    const { faults } = this.ingest;
    const verdict: Verdict =
      faults.refuseSaying === null
        ? this.ingest.judge(this.app, key, (says) => this.drop(says))
        : { ok: false, code: 'NetStream.Publish.Denied', says: faults.refuseSaying };
    if (!verdict.ok) {
      this.reply('onStatus', 0, null, status('error', verdict.code, verdict.says));
      this.socket.end();
      return;
    }
    this.sink = verdict.sink;
    this.reply('onStatus', 0, null, status('status', 'NetStream.Publish.Start', 'Publishing.'));
    if (faults.cutAfterMs !== null) {
      const cut = faults.cutAfterMs;
      faults.cutAfterMs = null;
      setTimeout(() => (this.cutting = true), cut);
    }
    this.applyFaults();
  }

  private drop(says: string): void {
    this.reply('onStatus', 0, null, status('error', 'NetStream.Publish.Rejected', says));
    this.socket.end();
  }

  private control(type: number, value: number): void {
    const payload = Buffer.alloc(type === 6 ? 5 : 4);
    payload.writeUInt32BE(value >>> 0);
    if (type === 6) payload[4] = 2;
    this.send(2, type, 0, payload);
  }

  private reply(...values: Amf[]): void {
    this.send(3, COMMAND, values[0] === 'onStatus' ? 1 : 0, writeAmf(...values));
  }

  private send(stream: number, type: number, messageStream: number, payload: Buffer): void {
    const header = Buffer.alloc(12);
    header[0] = stream;
    header.writeUIntBE(payload.length, 4, 3);
    header[7] = type;
    header.writeUInt32LE(messageStream, 8);
    const parts: Buffer[] = [header];
    // We never said another size, so ours is the first one: 128.
    for (let from = 0; from < payload.length; from += 128) {
      if (from > 0) parts.push(Buffer.from([0xc0 | stream]));
      parts.push(payload.subarray(from, from + 128));
    }
    if (!this.socket.destroyed && this.socket.writable) this.socket.write(Buffer.concat(parts));
  }
}

const status = (level: string, code: string, description: string): Amf => ({ level, code, description });
