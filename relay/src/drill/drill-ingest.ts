import {
  ChunkReader,
  decodeAmf,
  encodeAmf,
  encodeMessage,
  MESSAGE,
  RTMP_VERSION,
  type AmfValue,
  type RtmpMessage,
} from '@juncta/core/media/rtmp';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';

/** What a drilled place makes of a feed that wants in. */
export type Verdict =
  { readonly ok: true; readonly sink: DrillSink } | { readonly ok: false; readonly says: string };

export interface DrillSink {
  picture(): void;
  /** `clean`: the sender said that it was over. Afterwards nothing more comes. */
  left(clean: boolean): void;
}

/** One feed that is being taken. */
export interface DrillLine {
  /** As if the line had broken. */
  cut(): void;
  /** No longer reads, or reads again. */
  stall(on: boolean): void;
  /** Ends it with a word, as a place does that has ended the event. */
  end(says: string): void;
}

const HANDSHAKE_BYTES = 1536;

/**
 * Takes the feeds of a drill, on loopback and for this process alone: each comes by a key of its own. What a place does
 * with them is not its affair. RTMP 1.0, chapters 5 and 7.2, as far as our own sender speaks it.
 */
export class DrillIngest {
  private readonly server: Server;
  private readonly lines = new Set<Line>();

  /** @param judge of a key, when its feed wants in */
  constructor(judge: (key: string, line: DrillLine) => Verdict) {
    this.server = createServer((socket) => {
      const line = new Line(socket, judge, () => this.lines.delete(line));
      this.lines.add(line);
    });
    this.server.maxConnections = 200;
  }

  /** Gives the address at which feeds are taken. */
  async open(): Promise<string> {
    await new Promise<void>((done, failed) => {
      this.server.once('error', failed);
      this.server.listen(0, '127.0.0.1', done);
    });
    return `rtmp://127.0.0.1:${(this.server.address() as AddressInfo).port}/drill`;
  }

  close(): void {
    this.server.close();
    for (const line of this.lines) line.cut();
  }
}

class Line implements DrillLine {
  private handshake: Buffer | null = Buffer.alloc(0);
  private answered = false;
  private readonly reader = new ChunkReader();
  private sink: DrillSink | null = null;
  private saidGoodbye = false;

  constructor(
    private readonly socket: Socket,
    private readonly judge: (key: string, line: DrillLine) => Verdict,
    gone: () => void,
  ) {
    socket.setNoDelay(true);
    socket.on('data', (bytes) => this.take(bytes));
    socket.on('error', () => socket.destroy());
    socket.on('close', () => {
      gone();
      this.sink?.left(this.saidGoodbye);
      this.sink = null;
    });
  }

  cut(): void {
    this.socket.destroy();
  }

  stall(on: boolean): void {
    if (on) this.socket.pause();
    else this.socket.resume();
  }

  end(says: string): void {
    this.status('error', 'NetStream.Unpublish.Success', says);
    this.socket.end();
  }

  private take(bytes: Buffer): void {
    try {
      const rest = this.handshake === null ? bytes : this.shakeHands(bytes);
      if (rest) for (const message of this.reader.push(rest)) this.hear(message);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.socket.destroy();
    }
  }

  /** Null: more has to come first. */
  private shakeHands(bytes: Buffer): Buffer | null {
    const all = Buffer.concat([this.handshake!, bytes]);
    this.handshake = all;
    if (all.length < 1 + HANDSHAKE_BYTES) return null;
    if (!this.answered) {
      this.answered = true;
      // S0, S1 of nothing in particular, and S2, which gives C1 back.
      const own = Buffer.alloc(1 + HANDSHAKE_BYTES);
      own[0] = RTMP_VERSION;
      this.socket.write(Buffer.concat([own, all.subarray(1, 1 + HANDSHAKE_BYTES)]));
    }
    if (all.length < 1 + 2 * HANDSHAKE_BYTES) return null;
    this.handshake = null;
    return all.subarray(1 + 2 * HANDSHAKE_BYTES);
  }

  private hear({ type, payload }: RtmpMessage): void {
    if (type === MESSAGE.videoFrame) this.sink?.picture();
    else if (type === MESSAGE.command) this.obey(decodeAmf(payload));
  }

  private obey([name, id, , key]: readonly AmfValue[]): void {
    switch (name) {
      case 'connect':
        this.command(0, '_result', id, null, { level: 'status', code: 'NetConnection.Connect.Success' });
        break;
      case 'createStream':
        this.command(0, '_result', id, null, 1);
        break;
      case 'publish': {
        const verdict = this.judge(typeof key === 'string' ? key : '', this);
        if (verdict.ok) {
          this.sink = verdict.sink;
          this.status('status', 'NetStream.Publish.Start', 'taken');
        } else {
          this.status('error', 'NetStream.Publish.Rejected', verdict.says);
          this.socket.end();
        }
        break;
      }
      case 'FCUnpublish':
      case 'deleteStream':
        this.saidGoodbye = true;
        break;
    }
  }

  private status(level: string, code: string, description: string): void {
    this.command(1, 'onStatus', 0, null, { level, code, description });
  }

  private command(stream: number, ...values: AmfValue[]): void {
    if (this.socket.destroyed) return;
    const payload = encodeAmf(...values);
    this.socket.write(
      encodeMessage({ chunkStream: 3, type: MESSAGE.command, stream, timeMs: 0, payload }, FIRST),
    );
  }
}

/** Until a sender of chunks says otherwise they are this long, and we say nothing (5.4.1). */
const FIRST = 128;
