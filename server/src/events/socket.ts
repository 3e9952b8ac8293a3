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
import { PendingConnections } from '@juncta/runtime/connections';
import { SESSIONS_CHANNEL } from '../access/sessions';
import { addressOf, dropEndedSockets, socketRefusal, visit } from '../access/visits';
import { houseOf, isSameSite } from '../access/same-site';
import type { App } from '../app';
import { isDatabaseAway } from '../database/connect';
import { BATCH_SIZE, EVENTS_CHANNEL, eventsAfter, isKept } from './store';
import { Listener } from './listener';

/** Events are gathered for so long and sent as one batch: nobody sees the difference, and a burst is one message. */
const GATHER_MS = 50;
/** Sessions are looked at again this often; a removed member hears of it at once through {@link SESSIONS_CHANNEL}. */
const RECHECK_MS = 60_000;
/** Connections that have not become a socket yet: a browser with many tabs behind one address stays far below. */
const PENDING = { total: 256, perAddress: 48, patienceMs: 5000 } as const;
const CHECK_PATIENCE_MS = 1000;
const MOST_ORDERS = 60;
const ORDERS_WITHIN_MS = 10_000;
/** No request is longer; session descriptions of a room's many tracks are the longest. */
const MAX_MESSAGE_BYTES = 64 * 1024;

interface SocketData {
  token: string;
  /** The last number sent of each stream that is followed. */
  sent: Map<StreamName, number>;
  /** One reading at a time for each socket, so that batches leave in order. */
  busy: boolean;
  again: boolean;
  readonly orders: { count: number; sinceMs: number };
}
type EngineSocket = Socket['conn'];
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
      allowRequest: (req, answer) => answer(null, isSameSite(req, houseOf(req, app.config.trustProxy))),
    });
    this.io.use((socket, next) => {
      this.admit(socket).then(
        (admitted) => next(admitted ? undefined : new Error('signed_out')),
        (error: unknown) => next(new Error(socketRefusal(error))),
      );
    });
    this.io.on('connection', (socket) => this.serve(socket));
    this.closeSilent();
    // What was notified while nobody listened is looked up: events, and sessions that ended.
    const ended = () => {
      this.checkSessions();
      this.sessionsEnded();
    };
    const all = () => {
      ended();
      this.gather();
    };
    this.listener = new Listener(
      databaseUrl,
      {
        [EVENTS_CHANNEL]: () => this.gather(),
        [SESSIONS_CHANNEL]: ended,
      },
      all,
      app.log,
    );
    void this.listener.start();
    this.recheck = setInterval(() => this.checkSessions(), RECHECK_MS);
    this.recheck.unref();
  }

  /** A connection that does not become a socket of the team's or a room's is closed soon. */
  private closeSilent(): void {
    const pending = new PendingConnections<object>(PENDING);
    this.io.engine.on('connection', (connection: EngineSocket) => {
      const address = addressOf(connection.request, this.app.config.trustProxy);
      pending.add(connection, address, () => connection.close(true));
      connection.once('close', () => pending.remove(connection));
    });
    this.io.on('new_namespace', (space) =>
      space.on('connection', (socket: Socket) => pending.remove(socket.conn)),
    );
    this.io.on('connection', (socket) => pending.remove(socket.conn));
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
    const { request } = socket;
    const address = addressOf(request, this.app.config.trustProxy);
    const visitor = await visit(this.app, request, address);
    if (!visitor?.member) return false;
    socket.data = {
      token: visitor.token,
      sent: new Map(),
      busy: false,
      again: false,
      orders: { count: 0, sinceMs: 0 },
    };
    return true;
  }

  private serve(socket: TeamSocket): void {
    socket.on('follow', (request, answer) => {
      if (typeof answer !== 'function') return;
      if (this.asksTooMuch(socket)) {
        socket.disconnect(true);
        return;
      }
      this.follow(socket, request).then(answer, () => answer({ ok: false, startAfresh: false }));
    });
  }

  /** A page follows each stream once, and again after a break. */
  private asksTooMuch({ data: { orders } }: TeamSocket): boolean {
    const nowMs = this.app.securityClock.now();
    if (nowMs - orders.sinceMs > ORDERS_WITHIN_MS) Object.assign(orders, { count: 0, sinceMs: nowMs });
    orders.count += 1;
    return orders.count > MOST_ORDERS;
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
      void this.checking.then(() => this.sendAll());
    }, GATHER_MS);
  }

  private sendAll(): void {
    for (const socket of this.io.sockets.sockets.values()) void this.send(socket);
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

  /** Nothing is sent meanwhile: who has just signed out hears of nothing more. A database that is away is not waited for. */
  private checkSessions(): void {
    const patience = new Promise<void>((over) => setTimeout(over, CHECK_PATIENCE_MS).unref());
    this.checking = Promise.race([
      dropEndedSockets(this.app, [...this.io.sockets.sockets.values()]),
      patience,
    ]);
  }
  private checking: Promise<void> = Promise.resolve();
}
