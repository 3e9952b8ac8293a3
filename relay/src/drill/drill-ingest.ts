import { TAG } from '@juncta/core/media/flv';
import { NONCE_BYTES, RtmpReceiver } from '@juncta/core/media/rtmp';
import { randomBytes } from 'node:crypto';
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

/**
 * Takes the feeds of a drill, on loopback and for this process alone: each comes by a key of its own. What a place does
 * with them is not its affair.
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
  private readonly receiver = new RtmpReceiver(randomBytes(NONCE_BYTES));
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
    this.write(this.receiver.end(says));
    this.socket.end();
  }

  private take(bytes: Buffer): void {
    try {
      const { send, events } = this.receiver.receive(bytes);
      this.write(send);
      for (const event of events) {
        if (event.type === 'asks') this.answer(event.key);
        else if (event.type === 'goodbye') this.saidGoodbye = true;
        else if (event.tag.kind === TAG.videoFrame) this.sink?.picture();
      }
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.socket.destroy();
    }
  }

  private answer(key: string): void {
    const verdict = this.judge(key, this);
    if (verdict.ok) {
      this.sink = verdict.sink;
      this.write(this.receiver.accept());
    } else {
      this.write(this.receiver.refuse('NetStream.Publish.Rejected', verdict.says));
      this.socket.end();
    }
  }

  private write(parts: readonly Uint8Array[]): void {
    if (!this.socket.destroyed) for (const part of parts) this.socket.write(part);
  }
}
