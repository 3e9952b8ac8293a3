import { RtmpReceiver, NONCE_BYTES } from '@juncta/core/media/rtmp';
import { PendingConnections } from '@juncta/runtime/connections';
import { randomBytes } from 'node:crypto';
import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { createServer as createTlsServer, type Server as TlsServer, type TLSSocket } from 'node:tls';
import type { Logger } from 'pino';
import type { EncoderLine, Input } from './input';

/** Encoders say who they are at once. */
const PENDING = { total: 64, perAddress: 16, patienceMs: 8000 } as const;
/** An encoder that is let in and sends nothing for this long is gone. */
const SILENCE_MS = 10_000;
/** Whoever came with a wrong key waits so long for the no: guessing takes time. */
const REFUSAL_MS = 1000;
/** All shows together. */
const MOST_LINES = 32;
const GOODBYE_MS = 1000;
const TLS_HANDSHAKE = 0x16;
/**
 * `in/`, the input's id and its key. The id is not secret, so that a wrong key can be told of the right input. Encoders cut
 * an address into application and name in different places; together they are the same.
 */
const PATH = /^in\/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})\/([^?]*)/;

export interface IngestInputs {
  /** Null: there is no such input, or not any longer. */
  find(inputId: string): Input | null;
}

/**
 * The door for outside encoders: RTMP, and RTMPS on the same port where the house has a certificate (the first byte says
 * which). Nothing that comes is kept before the key was taken.
 */
export class IngestDoor {
  private readonly server: Server;
  private readonly tls: TlsServer | null;
  private readonly pending = new PendingConnections<Socket>(PENDING);
  private readonly lines = new Set<Line>();

  constructor(
    private readonly inputs: IngestInputs,
    https: { readonly cert: Buffer; readonly key: Buffer } | null,
    private readonly log: Logger,
  ) {
    this.server = createServer((socket) => this.meet(socket));
    this.server.maxConnections = PENDING.total + MOST_LINES;
    this.tls = https && createTlsServer({ ...https, handshakeTimeout: PENDING.patienceMs });
    this.tls?.on('secureConnection', (secure: TLSSocket) => this.welcome(secure, true));
    this.tls?.on('tlsClientError', (_error, secure) => secure.destroy());
  }

  get isSecure(): boolean {
    return this.tls !== null;
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port;
  }

  listen(port: number, host: string): Promise<void> {
    return new Promise((done, failed) => {
      this.server.once('error', failed);
      this.server.listen(port, host, () => {
        this.server.off('error', failed);
        done();
      });
    });
  }

  close(): void {
    this.server.close();
    for (const line of this.lines) line.cut();
  }

  private meet(socket: Socket): void {
    socket.setNoDelay(true);
    socket.on('error', () => socket.destroy());
    this.pending.add(socket, socket.remoteAddress ?? '', () => socket.destroy());
    socket.once('close', () => this.pending.remove(socket));
    socket.once('data', (first: Buffer) => {
      socket.pause();
      socket.unshift(first);
      if (first[0] !== TLS_HANDSHAKE) this.welcome(socket, false);
      else if (this.tls) this.tls.emit('connection', socket);
      else socket.destroy();
    });
  }

  private welcome(socket: Socket | TLSSocket, isSecure: boolean): void {
    const line: Line = new Line(socket, isSecure, {
      judge: (app, key) => this.judge(line, app, key),
      admitted: () => this.admitted(socket),
      gone: () => this.lines.delete(line),
    });
    this.lines.add(line);
    socket.resume();
  }

  /** Of TLS it is the socket beneath that waits. */
  private admitted(socket: Socket | TLSSocket): void {
    const raw = (socket as TLSSocket & { _parent?: Socket })._parent ?? socket;
    this.pending.remove(raw);
  }

  private judge(line: Line, app: string, key: string): Verdict {
    const found = PATH.exec(`${app}/${key}`);
    const input = found && this.inputs.find(found[1]!);
    if (!input)
      return {
        code: 'key',
        says: 'No show expects this input just now. Its card says where it is booked, and has its address.',
      };
    const judgement = input.judge(found[2]!, Date.now());
    if (!judgement.ok) {
      this.log.info({ input: input.inputId, code: judgement.code }, 'an encoder was refused');
      return judgement;
    }
    if ([...this.lines].filter((one) => one.input !== null && one !== line).length >= MOST_LINES)
      return { code: 'busy', says: 'This house takes no more encoders just now.' };
    return { input };
  }
}

type Verdict = { readonly input: Input } | { readonly code: 'key' | 'busy'; readonly says: string };

interface LineHouse {
  judge(app: string, key: string): Verdict;
  admitted(): void;
  gone(): void;
}

/** One encoder's connection. */
class Line implements EncoderLine {
  input: Input | null = null;
  readonly madeFrom = null;
  private readonly receiver = new RtmpReceiver(randomBytes(NONCE_BYTES));
  private refusing: NodeJS.Timeout | undefined;

  constructor(
    private readonly socket: Socket,
    readonly isSecure: boolean,
    private readonly house: LineHouse,
  ) {
    socket.on('data', (bytes) => this.take(bytes));
    socket.on('error', () => socket.destroy());
    socket.once('close', () => {
      clearTimeout(this.refusing);
      this.input?.leave(this);
      this.input = null;
      this.house.gone();
    });
  }

  end(says: string): void {
    this.input?.leave(this);
    this.input = null;
    this.sayAndGo(this.receiver.end(says));
  }

  cut(): void {
    this.socket.destroy();
  }

  private take(bytes: Buffer): void {
    try {
      const { send, events } = this.receiver.receive(bytes);
      for (const part of send) this.socket.write(part);
      for (const event of events) {
        if (event.type === 'tag') this.input?.take(event.tag, this);
        else if (event.type === 'asks') this.answer(event.app, event.key);
        else this.sayAndGo([]);
      }
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.socket.destroy();
    }
  }

  private answer(app: string, key: string): void {
    const verdict = this.house.judge(app, key);
    if (!('input' in verdict)) {
      const code = verdict.code === 'key' ? 'NetStream.Publish.BadName' : 'NetStream.Publish.Rejected';
      this.refusing = setTimeout(() => this.sayAndGo(this.receiver.refuse(code, verdict.says)), REFUSAL_MS);
      return;
    }
    this.house.admitted();
    this.input = verdict.input;
    this.socket.setTimeout(SILENCE_MS, () => this.socket.destroy());
    for (const part of this.receiver.accept()) this.socket.write(part);
    verdict.input.begin(this);
  }

  private sayAndGo(parts: readonly Uint8Array[]): void {
    if (this.socket.destroyed) return;
    for (const part of parts) this.socket.write(part);
    this.socket.end();
    // Whoever does not hear it is cut off.
    setTimeout(() => this.socket.destroy(), GOODBYE_MS).unref();
  }
}
