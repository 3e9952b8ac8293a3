import {
  Follow,
  STREAMS,
  type ClientToServer,
  type ServerToClient,
  type StreamName,
} from '@juncta/contract/events';
import type { ProgrammeReport } from '@juncta/contract/relay';
import type { Server as HttpServer } from 'node:http';
import { Server, type Socket } from 'socket.io';
import { cookieOf, SESSION_COOKIE } from '../access/cookies';
import { findVisitor, SESSIONS_CHANNEL } from '../access/sessions';
import { hostOf, isSameSite } from '../access/same-site';
import type { App } from '../app';
import { isDatabaseAway } from '../database/connect';
import { BATCH_SIZE, EVENTS_CHANNEL, eventsAfter, isKept } from './store';
import { Listener } from './listener';

/** Events are gathered for so long and sent as one batch: nobody sees the difference, and a burst is one message. */
const GATHER_MS = 50;
/** Sessions are looked at again this often; a removed member hears of it at once through {@link SESSIONS_CHANNEL}. */
const RECHECK_MS = 60_000;
/** No request is longer; session descriptions of a room's many tracks are the longest. */
const MAX_MESSAGE_BYTES = 64 * 1024;

interface SocketData {
  token: string;
  /** The last number sent of each stream that is followed. */
  sent: Map<StreamName, number>;
  /** One reading at a time for each socket, so that batches leave in order. */
  busy: boolean;
  again: boolean;
}
type TeamSocket = Socket<ClientToServer, ServerToClient, Record<string, never>, SocketData>;

/** The team's socket: numbered streams with replay. Media has sockets of its own, elsewhere. */
export class EventSocket {
  readonly io: Server<ClientToServer, ServerToClient, Record<string, never>, SocketData>;
  private readonly listener: Listener;
  private readonly recheck: NodeJS.Timeout;
  private gathering: NodeJS.Timeout | undefined;

  constructor(
    http: HttpServer,
    private readonly app: App,
    databaseUrl: string,
    /** Sessions were ended: whoever else holds connections looks at theirs. */
    private readonly sessionsEnded: () => void = () => undefined,
  ) {
    this.io = new Server(http, {
      path: '/api/socket',
      transports: ['websocket'],
      serveClient: false,
      maxHttpBufferSize: MAX_MESSAGE_BYTES,
      allowRequest: (req, answer) => answer(null, isSameSite(req, hostOf(req, app.config.trustProxy))),
    });
    this.io.use((socket, next) => {
      this.admit(socket).then(
        (admitted) => next(admitted ? undefined : new Error('signed_out')),
        () => next(new Error('database_away')),
      );
    });
    this.io.on('connection', (socket) => this.serve(socket));
    const all = () => this.gather();
    this.listener = new Listener(
      databaseUrl,
      {
        [EVENTS_CHANNEL]: all,
        [SESSIONS_CHANNEL]: () => {
          void this.dropEndedSessions();
          this.sessionsEnded();
        },
      },
      all,
      app.log,
    );
    void this.listener.start();
    this.recheck = setInterval(() => void this.dropEndedSessions(), RECHECK_MS);
    this.recheck.unref();
  }

  /** To whoever follows the relay: figures that the next ones replace. One that does not read misses some. */
  tellFigures(atMs: number, programmes: readonly ProgrammeReport[]): void {
    for (const socket of this.io.sockets.sockets.values()) {
      if (socket.data.sent.has('relay')) socket.volatile.emit('figures', atMs, programmes);
    }
  }

  tellViewers(counted: Parameters<ServerToClient['viewers']>[0]): void {
    for (const socket of this.io.sockets.sockets.values()) {
      if (socket.data.sent.has('relay')) socket.volatile.emit('viewers', counted);
    }
  }

  async close(): Promise<void> {
    clearInterval(this.recheck);
    clearTimeout(this.gathering);
    await this.listener.stop();
    await this.io.close();
  }

  private async admit(socket: TeamSocket): Promise<boolean> {
    // Behind a proxy all come from one address, and the proxy is the one to count.
    if (!this.app.config.trustProxy) await this.app.tries.countRequest(socket.handshake.address);
    const token = cookieOf(socket.handshake.headers.cookie, SESSION_COOKIE);
    const visitor = token ? await findVisitor(this.app.db, this.app.securityClock, token) : null;
    if (!visitor?.member) return false;
    socket.data = { token: visitor.token, sent: new Map(), busy: false, again: false };
    return true;
  }

  private serve(socket: TeamSocket): void {
    socket.on('follow', (request, answer) => {
      if (typeof answer !== 'function') return;
      this.follow(socket, request).then(answer, () => answer({ ok: false, startAfresh: false }));
    });
  }

  private async follow(socket: TeamSocket, request: unknown) {
    const parsed = Follow.safeParse(request);
    if (!parsed.success) return { ok: false, startAfresh: false };
    const { stream, after } = parsed.data;
    if (!(await isKept(this.app.db, stream, after))) return { ok: true, startAfresh: true };
    socket.data.sent.set(stream, after);
    void this.send(socket);
    return { ok: true, startAfresh: false };
  }

  private gather(): void {
    this.gathering ??= setTimeout(() => {
      this.gathering = undefined;
      for (const socket of this.io.sockets.sockets.values()) void this.send(socket);
    }, GATHER_MS);
  }

  /** Sends a socket what it has not had yet. Each has its own place in each stream, so none waits for another. */
  private async send(socket: TeamSocket): Promise<void> {
    const { data } = socket;
    if (data.busy) {
      data.again = true;
      return;
    }
    data.busy = true;
    try {
      do {
        data.again = false;
        for (const stream of STREAMS) await this.sendStream(socket, stream);
      } while (data.again && socket.connected);
    } catch (error) {
      // The listener finds the database again and calls for another round.
      if (!isDatabaseAway(error)) this.app.log.error({ err: error }, 'events could not be sent');
    } finally {
      data.busy = false;
    }
  }

  private async sendStream(socket: TeamSocket, stream: StreamName): Promise<void> {
    for (;;) {
      const from = socket.data.sent.get(stream);
      if (from === undefined || !socket.connected) return;
      const batch = await eventsAfter(this.app.db, stream, from);
      if (batch.length === 0) return;
      socket.emit('events', batch);
      // Somebody may have asked for an earlier number while we read: that wins.
      if (socket.data.sent.get(stream) === from) socket.data.sent.set(stream, batch.at(-1)!.seq);
      if (batch.length < BATCH_SIZE) return;
    }
  }

  private async dropEndedSessions(): Promise<void> {
    for (const socket of this.io.sockets.sockets.values()) {
      try {
        if (await findVisitor(this.app.db, this.app.securityClock, socket.data.token)) continue;
        socket.emit('signed_out');
        socket.disconnect(true);
      } catch {
        // The database is away: nobody is thrown out for that.
        return;
      }
    }
  }
}
