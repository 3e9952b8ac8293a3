import { can } from '@juncta/core/team';
import {
  enterBy,
  maySend,
  mayWatch,
  needsAccepting,
  PROGRAMME_PUBLISHER,
  type OnStage,
  type Publisher,
  type RoomSeat,
} from '@juncta/core/people';
import { nameOf } from '@juncta/core/stage';
import {
  AcceptRequest,
  AskRequest,
  DeclineRequest,
  OffersRequest,
  PublishRequest,
  ROOM_NAMESPACE,
  RoomAuth,
  StageRequest,
  UnpublishRequest,
  UnwatchRequest,
  WatchAnswer,
  WatchRequest,
  type RoomAnswer,
  type RoomProblem,
  type RoomRefusal,
  type RoomToClient,
  type RoomToServer,
} from '@juncta/contract/people';
import { randomUUID } from 'node:crypto';
import type { Namespace, Server, Socket } from 'socket.io';
import type * as z from 'zod';
import { addressOf, dropEndedSockets, socketRefusal, visit } from '../../access/visits';
import type { App } from '../../app';
import { findComposing } from '../../programme/composing';
import { findShow } from '../../shows/store';
import { Janus, JanusAway } from './janus';
import { MediaRoom, type Line } from './media-room';
import { RoomState } from './room-state';

/** Sessions are looked at again this often, for links that expire; a revoked one is noticed at once. */
const RECHECK_MS = 10_000;
/** Nobody receives more at a time: the programme and the most that fit on stage, with room for those in the wings. */
const MOST_WATCHED = 32;
/** Orders of one client within a second; a page that misbehaves is let go of. */
const MOST_ORDERS_PER_S = 40;

interface Seated {
  readonly token: string;
  readonly showId: string;
  readonly seat: RoomSeat;
  readonly placeId: string;
  /** Members who may run the show. */
  readonly mayRun: boolean;
  readonly watches: Map<string, { readonly publisher: Publisher; readonly line: Line }>;
  readonly publishing: Map<Publisher, { readonly line: Line; readonly number: number }>;
  /** One order after the other: a second description must not overtake the first. */
  working: Promise<unknown>;
  orders: number;
}
type RoomSocketOf = Socket<RoomToServer, RoomToClient, Record<string, never>, Seated>;

interface Room {
  readonly state: RoomState;
  /** Made when somebody first sends. */
  media: MediaRoom | null;
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
    const common = {
      token: visitor.token,
      placeId,
      watches: new Map(),
      publishing: new Map(),
      orders: 0,
    };
    const working = Promise.resolve();
    if (visitor.guest) {
      const { showId, personId } = visitor.guest;
      const there = this.seatOf(showId, personId);
      const entering = enterBy(there?.data.placeId ?? null, placeId, takeOver);
      if (entering === 'taken') return 'elsewhere';
      const seat = { kind: 'guest', personId } as const;
      socket.data = { ...common, showId, seat, mayRun: false, working };
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
    const mayRun = can(member.role, 'show.run');
    socket.data = { ...common, showId, seat: { kind: 'desk' }, mayRun, working };
    return null;
  }

  private seatOf(showId: string, personId: string): RoomSocketOf | undefined {
    return [...this.space.sockets.values()].find(
      ({ data }) => data.showId === showId && data.seat.kind === 'guest' && data.seat.personId === personId,
    );
  }

  private serve(socket: RoomSocketOf): void {
    const { showId, seat, mayRun } = socket.data;
    socket.on('publish', (wish, done) =>
      this.order(socket, done, async () => this.publish(socket, parse(PublishRequest, wish))),
    );
    socket.on('unpublish', (wish, done) =>
      this.order(socket, done, () => {
        this.unpublish(socket, parse(UnpublishRequest, wish).publisher);
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
    socket.on('offers', (wish) => this.told(socket, () => this.offer(socket, parse(OffersRequest, wish))));
    socket.on('decline', (wish) =>
      this.told(socket, () => {
        const { what } = parse(DeclineRequest, wish);
        if (seat.kind === 'guest') this.room(showId).state.answer(seat.personId, what);
      }),
    );
    socket.on('ask', (wish) =>
      this.told(socket, () => {
        const { personId, what } = parse(AskRequest, wish);
        if (!mayRun) throw new Problem('not_allowed');
        this.room(showId).state.ask(personId, what);
      }),
    );
    socket.on('accept', (wish) => this.told(socket, () => this.accept(socket, parse(AcceptRequest, wish))));
    socket.on('stage', (wish) =>
      this.told(socket, async () => {
        const { stage, accepted = [] } = parse(StageRequest, wish);
        if (!(await this.composes(socket))) throw new Problem('not_allowed');
        const { state } = this.room(showId);
        state.stage = stage;
        state.remember(accepted);
        this.endWatchesOffStage(showId, stage);
      }),
    );
    socket.on('disconnect', () => {
      for (const publisher of [...socket.data.publishing.keys()]) this.unpublish(socket, publisher);
      for (const { line } of socket.data.watches.values()) line.close();
      socket.data.watches.clear();
      if (seat.kind === 'guest' && !this.seatOf(showId, seat.personId))
        this.room(showId).state.leave(seat.personId);
      if (this.socketsOf(showId).length === 0) this.rooms.delete(showId);
      this.tellAll(showId);
    });
    this.room(showId);
    this.tellAll(showId);
  }

  /** Something that is said rather than asked: everybody is told what came of it. */
  private told(socket: RoomSocketOf, act: () => void | Promise<void>): void {
    this.order(socket, null, async () => {
      await act();
      this.tellAll(socket.data.showId);
      return {};
    });
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

  private async publish(
    socket: RoomSocketOf,
    { publisher, sdp: offered }: { publisher: Publisher; sdp: string },
  ): Promise<{ sdp: string }> {
    const { showId, seat, publishing } = socket.data;
    if (!maySend(seat, publisher)) throw new Problem('not_allowed');
    if (seat.kind === 'desk' && !(await this.composes(socket))) throw new Problem('not_allowed');
    const { state } = this.room(showId);
    this.unpublish(socket, publisher);
    const number = ++this.counted;
    const isOver = () => publishing.get(publisher)?.number !== number;
    const line = await this.mediaOf(showId).publish(publisher, offered, {
      // Only now can anybody receive it.
      up: () => {
        if (isOver()) return;
        state.arrives(publisher, number);
        this.tellAll(showId);
      },
      hungUp: () => {
        if (isOver()) return;
        this.unpublish(socket, publisher);
        socket.emit('publish_again', publisher);
      },
    });
    if (!socket.connected) {
      line.close();
      throw new Problem('not_there');
    }
    publishing.set(publisher, { line, number });
    return { sdp: line.sdp };
  }

  private unpublish(socket: RoomSocketOf, publisher: Publisher): void {
    const { publishing, showId } = socket.data;
    const sent = publishing.get(publisher);
    if (!sent) return;
    publishing.delete(publisher);
    sent.line.close();
    this.room(showId).state.endsArriving(publisher, sent.number);
    this.tellAll(showId);
  }

  private async watch(socket: RoomSocketOf, publisher: Publisher): Promise<{ watchId: string; sdp: string }> {
    const { showId, seat, watches } = socket.data;
    const { state } = this.room(showId);
    const isWanted = publisher === PROGRAMME_PUBLISHER || state.isAccepted(publisher);
    if (!isWanted || !mayWatch(seat, publisher, state.stage)) throw new Problem('not_allowed');
    if (!state.doesArrive(publisher) || watches.size >= MOST_WATCHED) throw new Problem('not_there');
    const watchId = randomUUID();
    const line = await this.mediaOf(showId).watch(publisher, () => watches.delete(watchId));
    watches.set(watchId, { publisher, line });
    return { watchId, sdp: line.sdp };
  }

  // --- Offers

  /** What a guest no longer offers is no longer sent either, whatever their page does. */
  private offer(socket: RoomSocketOf, { offers }: z.infer<typeof OffersRequest>): void {
    const { seat, showId, publishing } = socket.data;
    if (seat.kind !== 'guest' || !offers.every(({ source }) => maySend(seat, source)))
      throw new Problem('not_allowed');
    this.room(showId).state.offer(seat.personId, offers);
    for (const publisher of [...publishing.keys()])
      if (!offers.some(({ source }) => source === publisher)) this.unpublish(socket, publisher);
  }

  private accept(socket: RoomSocketOf, { source, isAccepted }: z.infer<typeof AcceptRequest>): void {
    const { mayRun, showId } = socket.data;
    if (!mayRun || !needsAccepting(source)) throw new Problem('not_allowed');
    const { state } = this.room(showId);
    if (isAccepted) {
      state.accept(source);
      return;
    }
    state.refuse(source);
    this.seatOf(showId, nameOf(source).owner)?.emit('declined', source);
  }

  /** Whoever went back to the wings is heard by no guest any more, whatever the guest's own page does. */
  private endWatchesOffStage(showId: string, stage: readonly OnStage[]): void {
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
    if (!data.mayRun) return false;
    return (await findComposing(this.app.db, data.showId))?.deskId === data.placeId;
  }

  /** Janus came back, or went: all that was agreed with it is gone, and everybody agrees anew. */
  private mediaChanged(up: boolean): void {
    for (const { data } of this.space.sockets.values()) {
      data.publishing.clear();
      data.watches.clear();
    }
    for (const [showId, { state }] of this.rooms) {
      state.nothingArrives();
      this.tellAll(showId);
    }
    if (up) this.space.emit('publish_again', null);
  }

  // --- What everybody sees

  private room(showId: string): Room {
    let room = this.rooms.get(showId);
    if (!room) {
      room = { state: new RoomState(), media: null };
      this.rooms.set(showId, room);
    }
    return room;
  }

  private mediaOf(showId: string): MediaRoom {
    if (!this.janus) throw new Problem('media_away');
    const room = this.room(showId);
    room.media ??= new MediaRoom(this.janus, showId, this.app.config.room!.secret);
    return room.media;
  }

  private socketsOf(showId: string): RoomSocketOf[] {
    return [...this.space.sockets.values()].filter(({ data }) => data.showId === showId);
  }

  private tellAll(showId: string): void {
    const room = this.rooms.get(showId);
    if (!room) return;
    const report = this.app.relay?.reportOf(showId);
    const states = (report?.feeds ?? []).map(({ state }) => state);
    for (const socket of this.socketsOf(showId)) {
      const { seat } = socket.data;
      const you = seat.kind === 'guest' ? seat.personId : null;
      socket.emit('room', room.state.view(you, states, this.janus?.up ?? false));
    }
  }
}

function parse<T>(schema: { safeParse(value: unknown): { success: boolean; data?: T } }, value: unknown): T {
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw new Problem('not_understood');
  return parsed.data!;
}
