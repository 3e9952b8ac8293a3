import {
  Follow,
  TOPIC_RIGHTS,
  showOf,
  topicOf,
  type ClientToServer,
  type FollowAnswer,
  type ServerToClient,
  type ShowTopic,
  type StreamEvent,
  type StreamName,
  type ViewersCounted,
} from '@juncta/contract/events';
import type { ProgrammeReport } from '@juncta/contract/relay';
import { can, type Role } from '@juncta/core/team';
import type { Server as HttpServer } from 'node:http';
import { Server, type Socket } from 'socket.io';
import { PendingConnections } from '@juncta/runtime/connections';
import { SESSIONS_CHANNEL } from '../access/sessions';
import { addressOf, dropEndedSockets, socketRefusal, visit } from '../access/visits';
import { houseOf, isSameSite } from '../access/same-site';
import type { App } from '../app';
import { isDatabaseAway } from '../database/connect';
import { EVENTS_CHANNEL, eventsAfter, isKept, lastSeq } from './store';
import { Listener } from './listener';
import { StreamHub, type Follower } from './stream-hub';

/** Events are gathered for this long and sent as one batch: nobody sees the difference, and a burst is one message. */
const GATHER_MS = 50;
/** Sessions are looked at again this often; a removed member hears of it at once through {@link SESSIONS_CHANNEL}. */
const RECHECK_MS = 60_000;
/** Connections that have not become a socket yet: a browser with many tabs behind one address stays far below. */
const PENDING = { total: 256, perAddress: 48, patienceMs: 5000 } as const;
const CHECK_PATIENCE_MS = 1000;
/** The database could not be asked: so long later it is tried again. */
const FOLLOW_AGAIN_MS = 1000;
const MOST_ORDERS = 60;
/** A page follows the house's streams and those of a show; one that composes another show, those of that, too. */
const MOST_FOLLOWED = 16;
const ORDERS_WITHIN_MS = 10_000;
/** No request is longer; session descriptions of a room's many tracks are the longest. */
const MAX_MESSAGE_BYTES = 64 * 1024;

interface SocketData {
  token: string;
  /** Of the member. Another role ends the session, and the socket with it. */
  role: Role;
  readonly following: Map<StreamName, SocketFollowing>;
  /** What was asked for last, also while it is looked up: whoever lets go meanwhile does not follow. */
  readonly wanted: Set<StreamName>;
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
  /** Streams of which something is new. */
  private readonly notified = new Set<StreamName>();
  private readonly hub: StreamHub;

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
    this.hub = new StreamHub(
      (stream, after) => eventsAfter(app.db, stream, after),
      // The listener finds a database that is away again, and calls for another round.
      (error) => isDatabaseAway(error) || app.log.error({ err: error }, 'events could not be sent'),
    );
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
      this.gather(this.hub.followed);
    };
    this.listener = new Listener(
      databaseUrl,
      {
        [EVENTS_CHANNEL]: (stream) => this.gather([stream as StreamName]),
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

  /** To whoever follows a programme: figures that the next ones replace. One that does not read misses some. */
  tellFigures(atMs: number, programmes: readonly ProgrammeReport[]): void {
    for (const { socket, showId } of this.followersOf('programme')) {
      const programme = programmes.find((one) => one.showId === showId);
      if (programme) socket.volatile.emit('figures', atMs, programme);
    }
  }

  tellViewers(counted: readonly ViewersCounted[]): void {
    for (const { socket, showId } of this.followersOf('listings'))
      socket.volatile.emit(
        'viewers',
        counted.filter((one) => one.showId === showId),
      );
  }

  /**
   * Tells other parts of this server that something of a stream is new. What, they read where it is kept. Returns what takes it back.
   */
  watch(stream: StreamName, told: () => void): () => void {
    let isThere = true;
    const follower: Follower = {
      sent: 0,
      get isThere() {
        return isThere;
      },
      send: told,
    };
    let again: NodeJS.Timeout | undefined;
    const begin = () => {
      lastSeq(this.app.db, stream).then(
        (last) => {
          if (!isThere) return;
          follower.sent = last;
          this.hub.follow(stream, follower, last);
          // Written meanwhile, perhaps, and told to nobody.
          this.gather([stream]);
        },
        (error: unknown) => {
          if (!isDatabaseAway(error)) this.app.log.warn({ err: error }, 'a stream could not be followed');
          if (isThere) again = setTimeout(begin, FOLLOW_AGAIN_MS);
        },
      );
    };
    begin();
    return () => {
      isThere = false;
      clearTimeout(again);
      this.hub.unfollow(stream, follower);
    };
  }

  private followersOf(topic: ShowTopic): { socket: TeamSocket; showId: string }[] {
    return [...this.io.sockets.sockets.values()].flatMap((socket) =>
      [...socket.data.following.keys()].flatMap((stream) =>
        topicOf(stream) === topic ? [{ socket, showId: showOf(stream)! }] : [],
      ),
    );
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
      role: visitor.member.role,
      following: new Map(),
      wanted: new Set(),
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
    socket.on('unfollow', (stream) => this.unfollow(socket, stream));
    socket.once('disconnect', () => {
      for (const stream of socket.data.following.keys()) this.unfollow(socket, stream);
    });
  }

  /** A page follows each stream once, and again after a break. */
  private asksTooMuch({ data: { orders } }: TeamSocket): boolean {
    const nowMs = this.app.securityClock.now();
    if (nowMs - orders.sinceMs > ORDERS_WITHIN_MS) Object.assign(orders, { count: 0, sinceMs: nowMs });
    orders.count += 1;
    return orders.count > MOST_ORDERS;
  }

  private async follow(socket: TeamSocket, request: unknown): Promise<FollowAnswer> {
    const parsed = Follow.safeParse(request);
    if (!parsed.success) return { ok: false, startAfresh: false };
    const { stream, after } = parsed.data;
    if (!can(socket.data.role, TOPIC_RIGHTS[topicOf(stream)])) return { ok: false, startAfresh: false };
    const { following, wanted } = socket.data;
    if (!wanted.has(stream) && wanted.size >= MOST_FOLLOWED) return { ok: false, startAfresh: false };
    wanted.add(stream);
    if (!(await isKept(this.app.db, stream, after))) return { ok: true, startAfresh: true };
    const last = await lastSeq(this.app.db, stream);
    if (!socket.connected || !wanted.has(stream)) return { ok: false, startAfresh: false };
    const now = following.get(stream) ?? new SocketFollowing(after, socket);
    // Two parts of a page may follow one stream: whoever has an event already takes it for a double.
    now.sent = Math.min(now.sent, after);
    following.set(stream, now);
    this.hub.follow(stream, now, last);
    // What was written since that reading may have been told to nobody. Sessions are looked at before it is sent.
    this.gather([stream]);
    return { ok: true, startAfresh: false };
  }

  private unfollow({ data: { following, wanted } }: TeamSocket, stream: StreamName): void {
    wanted.delete(stream);
    const known = following.get(stream);
    if (!known) return;
    following.delete(stream);
    this.hub.unfollow(stream, known);
  }

  private gather(streams: readonly StreamName[]): void {
    for (const stream of streams) this.notified.add(stream);
    this.gathering ??= setTimeout(() => {
      this.gathering = undefined;
      void this.checking.then(() => {
        const notified = [...this.notified];
        this.notified.clear();
        for (const stream of notified) void this.hub.refresh(stream);
      });
    }, GATHER_MS);
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

/** One stream that one socket follows. */
class SocketFollowing implements Follower {
  constructor(
    public sent: number,
    private readonly socket: TeamSocket,
  ) {}

  get isThere(): boolean {
    return this.socket.connected;
  }

  send(batch: readonly StreamEvent[]): void {
    this.socket.emit('events', batch);
  }
}
