import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import { WebSocket } from 'ws';

/** The media server refused what was asked; `code` is its own. */
export class JanusRefused extends Error {
  constructor(
    readonly code: number,
    reason: string,
  ) {
    super(reason);
  }
}
/** It does not answer, or was restarted in between: everything made there is gone. */
export class JanusAway extends Error {}

const PATIENCE_MS = 5000;
const AGAIN_MS = 500;
/** Sessions nobody asks for are ended over there after 60 s. */
const KEEP_ALIVE_MS = 20_000;

export interface Jsep {
  readonly type: 'offer' | 'answer';
  readonly sdp: string;
}
interface Message {
  janus: string;
  transaction?: string;
  session_id?: number;
  sender?: number;
  data?: { id: number };
  error?: { code: number; reason: string };
  plugindata?: { data: Record<string, unknown> };
  jsep?: Jsep;
}
export interface PluginAnswer {
  readonly data: Record<string, unknown>;
  readonly jsep: Jsep | null;
}

interface Pending {
  readonly answer: (message: Message) => void;
  readonly fail: (error: Error) => void;
  readonly timer: NodeJS.Timeout;
  /** The plugin's own answer is waited for, not the acknowledgement that comes before it. */
  readonly toEnd: boolean;
}

export interface HandleEvents {
  /** Media flows. */
  up(): void;
  /** It stopped arriving, without our having wanted it. */
  hungUp(): void;
}

/** One handle: one connection of media. */
export interface Handle {
  readonly id: number;
  ask(body: object, jsep?: Jsep): Promise<PluginAnswer>;
  detach(): void;
}

/**
 * The server's line to Janus, which listens on loopback only: nobody else speaks to it. One session carries all
 * handles; when the line or Janus dies the session is made anew, and `lost` says that nothing of the old one is left.
 */
export class Janus {
  private socket: WebSocket | null = null;
  private session: number | null = null;
  private readonly pending = new Map<string, Pending>();
  private readonly listening = new Map<number, HandleEvents>();
  private retry: NodeJS.Timeout | undefined;
  private readonly keeping: NodeJS.Timeout;
  private closed = false;

  constructor(
    private readonly url: string,
    private readonly secret: string,
    private readonly log: Logger,
    private readonly changed: (up: boolean) => void,
  ) {
    this.connect();
    this.keeping = setInterval(() => this.keepAlive(), KEEP_ALIVE_MS);
  }

  get up(): boolean {
    return this.session !== null;
  }

  async attach(events: HandleEvents): Promise<Handle> {
    const session_id = this.session;
    if (session_id === null) throw new JanusAway();
    const { data } = await this.request({ janus: 'attach', session_id, plugin: 'janus.plugin.videoroom' });
    const id = data!.id;
    this.listening.set(id, events);
    return {
      id,
      ask: async (body, jsep) => {
        const message = { janus: 'message', session_id, handle_id: id, body, ...(jsep ? { jsep } : {}) };
        const answered = await this.request(message, true);
        const answer = answered.plugindata?.data ?? {};
        if (typeof answer['error_code'] === 'number') {
          throw new JanusRefused(answer['error_code'], String(answer['error']));
        }
        return { data: answer, jsep: answered.jsep ?? null };
      },
      detach: () => {
        this.listening.delete(id);
        if (this.session === session_id) {
          void this.request({ janus: 'detach', session_id, handle_id: id }).catch(() => undefined);
        }
      },
    };
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.retry);
    clearInterval(this.keeping);
    this.socket?.close();
  }

  private connect(): void {
    if (this.closed) return;
    const socket = new WebSocket(this.url, 'janus-protocol', { handshakeTimeout: PATIENCE_MS });
    this.socket = socket;
    socket.on('open', () => void this.begin(socket));
    socket.on('message', (data) => this.hear(JSON.parse((data as Buffer).toString('utf8')) as Message));
    socket.on('error', (error) => this.log.debug({ err: error }, 'the media server’s line'));
    socket.on('close', () => this.lose());
  }

  private async begin(socket: WebSocket): Promise<void> {
    try {
      const { data } = await this.request({ janus: 'create' });
      this.session = data!.id;
      this.log.info('the media server answers');
      this.changed(true);
    } catch (error) {
      this.log.warn({ err: error }, 'the media server gives no session');
      socket.terminate();
    }
  }

  private lose(): void {
    const wasUp = this.session !== null;
    this.session = null;
    this.listening.clear();
    for (const { fail, timer } of this.pending.values()) {
      clearTimeout(timer);
      fail(new JanusAway());
    }
    this.pending.clear();
    if (this.closed) return;
    if (wasUp) {
      this.log.warn('the media server is away');
      this.changed(false);
    }
    this.retry = setTimeout(() => this.connect(), AGAIN_MS);
  }

  private keepAlive(): void {
    if (this.session === null) return;
    this.request({ janus: 'keepalive', session_id: this.session }).catch(() => this.socket?.terminate());
  }

  private request(message: object, toEnd = false): Promise<Message> {
    const { socket } = this;
    if (socket?.readyState !== WebSocket.OPEN) return Promise.reject(new JanusAway());
    const transaction = randomUUID();
    return new Promise((answer, fail) => {
      const timer = setTimeout(() => {
        this.pending.delete(transaction);
        fail(new JanusAway());
      }, PATIENCE_MS);
      this.pending.set(transaction, { answer, fail, timer, toEnd });
      socket.send(JSON.stringify({ ...message, transaction, apisecret: this.secret }));
    });
  }

  private hear(message: Message): void {
    const pending = message.transaction === undefined ? undefined : this.pending.get(message.transaction);
    if (pending) {
      if (message.janus === 'ack' && pending.toEnd) return;
      clearTimeout(pending.timer);
      this.pending.delete(message.transaction!);
      if (message.error) pending.fail(new JanusRefused(message.error.code, message.error.reason));
      else pending.answer(message);
      return;
    }
    const events = message.sender === undefined ? undefined : this.listening.get(message.sender);
    if (message.janus === 'webrtcup') events?.up();
    if (message.janus === 'hangup') events?.hungUp();
    if (message.janus === 'timeout') this.socket?.terminate();
  }
}
