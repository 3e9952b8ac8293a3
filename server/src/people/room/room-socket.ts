import { can } from '@juncta/core/team';
import { enterBy, mayWatch, onAirSign, PROGRAMME_PUBLISHER, type RoomSeat } from '@juncta/core/people';
import {
  PublishRequest,
  ROOM_NAMESPACE,
  RoomAuth,
  Sends,
  StageRequest,
  UnwatchRequest,
  WatchAnswer,
  WatchRequest,
  type RoomAnswer,
  type RoomProblem,
  type RoomRefusal,
  type RoomToClient,
  type RoomToServer,
  type RoomView,
} from '@juncta/contract/people';
import { randomUUID } from 'node:crypto';
import type { Namespace, Server, Socket } from 'socket.io';
import { addressOf, dropEndedSockets, socketRefusal, visit } from '../../access/visits';
import type { App } from '../../app';
import { findComposing } from '../../programme/composing';
import { findShow } from '../../shows/store';
import { Janus, JanusAway } from './janus';
import { MediaRoom, type Line } from './media-room';

/** Sessions are looked at again this often, for links that expire; a revoked one is noticed at once. */
const RECHECK_MS = 10_000;
/** Nobody receives more at a time: the programme and the most that fit on stage, with room for those in the wings. */
const MOST_WATCHED = 24;
/** Orders of one client within a second; a page that misbehaves is let go of. */
const MOST_ORDERS_PER_S = 40;

interface Seated {
  readonly token: string;
  readonly showId: string;
  readonly seat: RoomSeat;
  readonly placeId: string;
  /** Members who may compose. */
  readonly mayCompose: boolean;
  readonly watches: Map<string, { readonly publisher: string; readonly line: Line }>;
  publishing: { readonly publisher: string; readonly line: Line } | null;
  /** One order after the other: a second description must not overtake the first. */
  working: Promise<unknown>;
  orders: number;
}
type RoomSocketOf = Socket<RoomToServer, RoomToClient, Record<string, never>, Seated>;

interface Publication {
  readonly number: number;
  readonly socket: RoomSocketOf;
  sends: Sends;
}
interface Room {
  readonly media: MediaRoom;
  readonly publications: Map<string, Publication>;
  stage: readonly string[];
}

class Problem extends Error {
  constructor(readonly problem: RoomProblem) {
    super(problem);
  }
}

/**
 * The rooms of all shows: who is in, who is on stage, and the agreements of media between them and Janus. Nothing here
 * is kept: whoever comes back after a restart of this server says again what they send, and the composing desk who is
 * on stage.
 */
export class RoomSocket {
  private readonly space: Namespace<RoomToServer, RoomToClient, Record<string, never>, Seated>;
  private readonly janus: Janus | null;
  private readonly rooms = new Map<string, Room>();
  private readonly rechecking: NodeJS.Timeout;
  private counted = 0;

  constructor(
    io: Server,
    private readonly app: App,
  ) {
    const { room } = app.config;
    this.janus =
      room &&
      new Janus(room.url, room.secret, app.log.child({ part: 'room' }), (up) => this.mediaChanged(up));
    this.space = io.of(ROOM_NAMESPACE) as typeof this.space;
    this.space.use((socket, next) => {
      this.admit(socket).then(
        (refusal) => next(refusal ? new Error(refusal) : undefined),
        (error: unknown) => next(new Error(socketRefusal(error) satisfies RoomRefusal)),
      );
    });
    this.space.on('connection', (socket) => this.serve(socket));
    this.rechecking = setInterval(() => {
      for (const socket of this.space.sockets.values()) socket.data.orders = 0;
      void this.recheck();
    }, RECHECK_MS);
    this.rechecking.unref();
  }

  close(): void {
    clearInterval(this.rechecking);
    this.janus?.close();
  }

  /** The programme of a show changed, or its feeds: signs may be others. */
  programmeChanged(showId: string): void {
    if (this.rooms.has(showId)) this.tellAll(showId);
  }

  /** Sessions were ended, links taken back. */
  async recheck(): Promise<void> {
    await dropEndedSockets(this.app, [...this.space.sockets.values()]);
  }

  // --- Coming and going

  private async admit(socket: RoomSocketOf): Promise<RoomRefusal | null> {
    const { request, handshake } = socket;
    const address = addressOf(request, this.app.config.trustProxy);
    const auth = RoomAuth.safeParse(handshake.auth);
    if (!auth.success) return 'not_understood';
    const visitor = await visit(this.app, request, address);
    if (!visitor) return 'signed_out';
    const { placeId, takeOver = false } = auth.data;
    const common = { token: visitor.token, placeId, watches: new Map(), publishing: null, orders: 0 };
    const working = Promise.resolve();
    if (visitor.guest) {
      const { showId, personId } = visitor.guest;
      const there = this.seatOf(showId, personId);
      const entering = enterBy(there?.data.placeId ?? null, placeId, takeOver);
      if (entering === 'taken') return 'elsewhere';
      const seat = { kind: 'guest', personId } as const;
      socket.data = { ...common, showId, seat, mayCompose: false, working };
      if (there) {
        if (entering === 'moves') there.emit('moved');
        there.disconnect(true);
      }
      return null;
    }
    const { member } = visitor;
    const { showId } = auth.data;
    if (!member || !showId || !can(member.role, 'desk.open') || !(await findShow(this.app.db, showId))) {
      return 'not_understood';
    }
    const mayCompose = can(member.role, 'show.run');
    socket.data = { ...common, showId, seat: { kind: 'desk' }, mayCompose, working };
    return null;
  }

  private seatOf(showId: string, personId: string): RoomSocketOf | undefined {
    return [...this.space.sockets.values()].find(
      ({ data }) => data.showId === showId && data.seat.kind === 'guest' && data.seat.personId === personId,
    );
  }

  private serve(socket: RoomSocketOf): void {
    const { showId } = socket.data;
    socket.on('publish', (wish, done) =>
      this.order(socket, done, async () => this.publish(socket, parse(PublishRequest, wish))),
    );
    socket.on('unpublish', (done) =>
      this.order(socket, done, () => {
        this.unpublish(socket);
        return Promise.resolve({});
      }),
    );
    socket.on('watch', (wish, done) =>
      this.order(socket, done, async () => this.watch(socket, parse(WatchRequest, wish).publisher)),
    );
    socket.on('answer', (wish, done) =>
      this.order(socket, done, async () => {
        const { watchId, sdp } = parse(WatchAnswer, wish);
        const watch = socket.data.watches.get(watchId);
        if (!watch) throw new Problem('not_there');
        await watch.line.answer(sdp);
        return {};
      }),
    );
    socket.on('unwatch', (wish) =>
      this.order(socket, null, () => {
        const { watchId } = parse(UnwatchRequest, wish);
        socket.data.watches.get(watchId)?.line.close();
        socket.data.watches.delete(watchId);
        return Promise.resolve({});
      }),
    );
    socket.on('sends', (wish) =>
      this.order(socket, null, () => {
        const sends = parse(Sends, wish);
        const { publishing } = socket.data;
        const publication = publishing && this.room(showId).publications.get(publishing.publisher);
        if (publication) publication.sends = sends;
        this.tellAll(showId);
        return Promise.resolve({});
      }),
    );
    socket.on('stage', (wish) =>
      this.order(socket, null, async () => {
        const { people } = parse(StageRequest, wish);
        if (!(await this.composes(socket))) throw new Problem('not_allowed');
        this.room(showId).stage = people;
        this.endWatchesOffStage(showId, people);
        this.tellAll(showId);
        return {};
      }),
    );
    socket.on('disconnect', () => {
      this.unpublish(socket);
      for (const { line } of socket.data.watches.values()) line.close();
      socket.data.watches.clear();
      this.tellAll(showId);
      if (this.socketsOf(showId).length === 0) this.rooms.delete(showId);
    });
    this.tellAll(showId);
  }

  /** Runs an order of a client after those before it, and answers. */
  private order<T extends object>(
    socket: RoomSocketOf,
    done: ((answer: RoomAnswer<T>) => void) | null,
    act: () => Promise<T>,
  ): void {
    const { data } = socket;
    const answer = typeof done === 'function' ? done : () => undefined;
    if (++data.orders > MOST_ORDERS_PER_S * (RECHECK_MS / 1000)) {
      socket.disconnect(true);
      return;
    }
    data.working = data.working.then(async () => {
      if (!socket.connected) return;
      try {
        answer({ ok: true, ...(await act()) });
      } catch (error) {
        if (error instanceof Problem) answer({ ok: false, problem: error.problem });
        else {
          if (!(error instanceof JanusAway)) this.app.log.warn({ err: error }, 'an order of a room failed');
          answer({ ok: false, problem: 'media_away' });
        }
      }
    });
  }

  // --- Media

  private async publish(socket: RoomSocketOf, wish: { sdp: string; sends: Sends }): Promise<{ sdp: string }> {
    const { showId, seat } = socket.data;
    if (seat.kind === 'desk' && !(await this.composes(socket))) throw new Problem('not_allowed');
    const publisher = seat.kind === 'guest' ? seat.personId : PROGRAMME_PUBLISHER;
    const room = this.room(showId);
    this.unpublish(socket);
    const line: Line = await room.media.publish(publisher, wish.sdp, {
      // Only now can anybody receive it.
      up: () => {
        if (socket.data.publishing?.line !== line) return;
        room.publications.set(publisher, { number: ++this.counted, socket, sends: wish.sends });
        this.tellAll(showId);
      },
      hungUp: () => {
        if (socket.data.publishing?.line !== line) return;
        this.unpublish(socket);
        socket.emit('publish_again');
      },
    });
    if (!socket.connected) {
      line.close();
      throw new Problem('not_there');
    }
    socket.data.publishing = { publisher, line };
    return { sdp: line.sdp };
  }

  private unpublish(socket: RoomSocketOf): void {
    const { publishing, showId } = socket.data;
    if (!publishing) return;
    socket.data.publishing = null;
    publishing.line.close();
    const { publications } = this.room(showId);
    if (publications.get(publishing.publisher)?.socket === socket) publications.delete(publishing.publisher);
    this.tellAll(showId);
  }

  private async watch(socket: RoomSocketOf, publisher: string): Promise<{ watchId: string; sdp: string }> {
    const { showId, seat, watches } = socket.data;
    const room = this.room(showId);
    if (!mayWatch(seat, publisher, room.stage)) throw new Problem('not_allowed');
    if (!room.publications.has(publisher) || watches.size >= MOST_WATCHED) throw new Problem('not_there');
    const watchId = randomUUID();
    const line = await room.media.watch(publisher, () => watches.delete(watchId));
    watches.set(watchId, { publisher, line });
    return { watchId, sdp: line.sdp };
  }

  /** Whoever went back to the wings is heard by no guest any more, whatever the guest's own page does. */
  private endWatchesOffStage(showId: string, stage: readonly string[]): void {
    for (const { data } of this.socketsOf(showId)) {
      for (const [watchId, { publisher, line }] of data.watches) {
        if (mayWatch(data.seat, publisher, stage)) continue;
        line.close();
        data.watches.delete(watchId);
      }
    }
  }

  /** Whether this tab is the one that composes the show. */
  private async composes({ data }: RoomSocketOf): Promise<boolean> {
    if (!data.mayCompose) return false;
    return (await findComposing(this.app.db, data.showId))?.deskId === data.placeId;
  }

  /** Janus came back, or went: all that was agreed with it is gone, and everybody agrees anew. */
  private mediaChanged(up: boolean): void {
    for (const socket of this.space.sockets.values()) {
      socket.data.publishing = null;
      socket.data.watches.clear();
    }
    for (const [showId, room] of this.rooms) {
      room.publications.clear();
      this.tellAll(showId);
    }
    if (up) this.space.emit('publish_again');
  }

  // --- What everybody sees

  private room(showId: string): Room {
    let room = this.rooms.get(showId);
    if (!room) {
      if (!this.janus) throw new Problem('media_away');
      const media = new MediaRoom(this.janus, showId, this.app.config.room!.secret);
      room = { media, publications: new Map(), stage: [] };
      this.rooms.set(showId, room);
    }
    return room;
  }

  private socketsOf(showId: string): RoomSocketOf[] {
    return [...this.space.sockets.values()].filter(({ data }) => data.showId === showId);
  }

  private tellAll(showId: string): void {
    const sockets = this.socketsOf(showId);
    const room = this.rooms.get(showId);
    const stage = room?.stage ?? [];
    const report = this.app.relay?.reportOf(showId);
    const states = (report?.feeds ?? []).map(({ state }) => state);
    const people = sockets.flatMap(({ data: { seat } }) => {
      if (seat.kind !== 'guest') return [];
      const publication = room?.publications.get(seat.personId);
      return {
        personId: seat.personId,
        publication: publication?.number ?? null,
        sends: publication?.sends ?? { video: false, audio: false },
        sign: onAirSign(stage.includes(seat.personId), states),
      };
    });
    for (const socket of sockets) {
      const { seat } = socket.data;
      const view: RoomView = {
        you: seat.kind === 'guest' ? seat.personId : null,
        people,
        stage,
        programme: room?.publications.get(PROGRAMME_PUBLISHER)?.number ?? null,
        media: this.janus?.up ?? false,
      };
      socket.emit('room', view);
    }
  }
}

function parse<T>(schema: { safeParse(value: unknown): { success: boolean; data?: T } }, value: unknown): T {
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw new Problem('not_understood');
  return parsed.data!;
}
