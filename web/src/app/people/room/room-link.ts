import { computed, Injectable, signal } from '@angular/core';
import {
  ROOM_NAMESPACE,
  type RoomAuth,
  type RoomRefusal,
  type RoomToClient,
  type RoomToServer,
  type RoomView,
} from '@juncta/contract/people';
import {
  PROGRAMME_PUBLISHER,
  type Asked,
  type Offer,
  type OnStage,
  type Publisher,
} from '@juncta/core/people';
import type { SourceId } from '@juncta/core/stage';
import { Subject } from 'rxjs';
import type { io as connectSocket, Socket } from 'socket.io-client';
import { exchangeTracks, makeAnswer, makeOffer, onBroken } from './peer';

type RoomSocket = Socket<RoomToClient, RoomToServer>;

export type RoomStatus =
  | 'away'
  | 'connecting'
  | 'in'
  /** The connection is lost, and is being made again. */
  | 'lost'
  /** The link is in use elsewhere: somebody has to say that it is meant. */
  | 'elsewhere'
  /** Another place took over. */
  | 'moved'
  | 'signed_out';

interface Sent {
  readonly stream: MediaStream;
  /** Null while it is agreed on. */
  peer: RTCPeerConnection | null;
}

interface Watched {
  readonly publication: number;
  readonly peer: RTCPeerConnection;
  readonly stream: MediaStream;
  watchId: string | null;
}

const RETRY_MS = 1000;
const ANSWER_PATIENCE_MS = 8000;

/**
 * This tab's place in the room of a show. What is wanted (what to send, whom to receive) is said once and kept to over
 * every break of the line, of the server and of the media server.
 */
@Injectable({ providedIn: 'root' })
export class RoomLink {
  readonly status = signal<RoomStatus>('away');
  readonly view = signal<RoomView | null>(null);
  /** Where a guest of this tab is: in the wings, as whoever has no place in the room, on stage, or on air. */
  readonly sign = computed(() => {
    const view = this.view();
    return view?.people.find(({ personId }) => personId === view.you)?.sign ?? 'wings';
  });
  /** What is received at the moment, by publisher. */
  readonly streams = signal<Streams>({});
  /** Sources of this tab that a desk does not want (any more), as they are told. */
  readonly declined = new Subject<SourceId>();

  private socket: RoomSocket | null = null;
  private auth: RoomAuth | null = null;
  private readonly sending = new Map<Publisher, Sent>();
  private offers: readonly Offer[] | null = null;
  private wanted: readonly Publisher[] = [];
  private stage: readonly OnStage[] | null = null;
  private readonly watched = new Map<Publisher, Watched>();
  /** One agreement after the other. */
  private working: Promise<unknown> = Promise.resolve();

  async enter(auth: RoomAuth): Promise<void> {
    this.leave();
    this.auth = auth;
    this.status.set('connecting');
    const io = await this.loadClient();
    if (this.auth !== auth) return;
    const socket: RoomSocket = io(ROOM_NAMESPACE, {
      path: '/api/socket',
      transports: ['websocket'],
      reconnectionDelay: 300,
      reconnectionDelayMax: 2000,
      auth,
      // Beside the team's own socket, so that closing one leaves the other.
      forceNew: true,
    });
    this.socket = socket;
    /** What a line that was let go of still says, its own end above all, is no news of the one that followed. */
    const whileOurs =
      <A extends unknown[]>(act: (...args: A) => void) =>
      (...args: A) => {
        if (this.socket === socket) act(...args);
      };
    const again = whileOurs(() => socket.connect());
    socket.on(
      'connect',
      whileOurs(() => {
        this.status.set('in');
        if (this.stage) socket.emit('stage', { stage: [...this.stage], accepted: this.accepted() });
        this.sayOffers();
        this.publishAgain(null);
      }),
    );
    socket.on(
      'connect_error',
      whileOurs(({ message }: Error) => {
        const why = message as RoomRefusal;
        if (why === 'elsewhere' || why === 'signed_out') return this.end(why);
        if (this.status() === 'in') this.status.set('lost');
        if (!socket.active) setTimeout(again, RETRY_MS);
      }),
    );
    socket.on(
      'disconnect',
      whileOurs(() => {
        this.dropMedia();
        if (this.status() === 'in') this.status.set('lost');
        if (!socket.active) setTimeout(again, RETRY_MS);
      }),
    );
    socket.on(
      'room',
      whileOurs((view: RoomView) => {
        this.view.set(view);
        this.reconcile();
      }),
    );
    socket.on(
      'publish_again',
      whileOurs((publisher: Publisher | null) => this.publishAgain(publisher)),
    );
    socket.on(
      'declined',
      whileOurs((source: SourceId) => this.declined.next(source)),
    );
    socket.on(
      'moved',
      whileOurs(() => this.end('moved')),
    );
    socket.on(
      'signed_out',
      whileOurs(() => this.end('signed_out')),
    );
  }

  /** Says that it is meant: the other place is let go of. */
  takeOver(): void {
    if (this.auth) void this.enter({ ...this.auth, takeOver: true });
  }

  leave(): void {
    this.auth = null;
    this.end('away');
    this.view.set(null);
  }

  /**
   * Sends this into the room from now on, under this name; null: nothing. Other tracks of the same kinds go over the
   * connection there is, and a picture that is turned off is not sent.
   */
  send(publisher: Publisher, stream: MediaStream | null): void {
    const before = this.sending.get(publisher);
    if (!stream) {
      if (!before) return;
      this.sending.delete(publisher);
      before.peer?.close();
      const { socket } = this;
      this.inOrder(async () => {
        if (!socket?.connected || this.sending.has(publisher)) return;
        await socket.timeout(ANSWER_PATIENCE_MS).emitWithAck('unpublish', { publisher });
      });
      return;
    }
    if (before?.peer && exchangeTracks(before.peer, stream)) {
      this.sending.set(publisher, { stream, peer: before.peer });
      return;
    }
    // What was not agreed on yet will be, as the tracks are then.
    if (before?.stream === stream) return;
    this.sending.set(publisher, { stream, peer: null });
    before?.peer?.close();
    this.publishAgain(publisher);
  }

  /** What this guest has for the show from now on, all of it. */
  offer(offers: readonly Offer[]): void {
    this.offers = offers;
    this.sayOffers();
  }

  /** Receives these, as far as they are there. */
  want(publishers: readonly Publisher[]): void {
    this.wanted = publishers;
    this.reconcile();
  }

  /** Only at the desk that composes. */
  setStage(stage: readonly OnStage[]): void {
    this.stage = stage;
    this.say('stage', { stage: [...stage] });
  }

  /** A desk wants what a guest offers, or does not (any more). */
  accept(source: SourceId, isAccepted: boolean): void {
    this.say('accept', { source, isAccepted });
  }

  /** A desk asks for what only a guest can do. */
  ask(personId: string, what: Asked): void {
    this.say('ask', { personId, what });
  }

  /** A guest will not. */
  decline(what: Asked): void {
    this.say('decline', { what });
  }

  // --- Within

  private end(status: RoomStatus): void {
    const { socket } = this;
    this.socket = null;
    this.status.set(status);
    socket?.disconnect();
    this.dropMedia();
  }

  private dropMedia(): void {
    for (const sent of this.sending.values()) {
      sent.peer?.close();
      sent.peer = null;
    }
    for (const { peer } of this.watched.values()) peer.close();
    this.watched.clear();
    this.streams.set({});
  }

  private inOrder(act: () => Promise<void>): void {
    // A connection that could not be made is made anew at the next view, or when the server asks.
    this.working = this.working.then(act).catch(() => undefined);
  }

  private say<K extends Said>(what: K, wish: Parameters<RoomToServer[K]>[0]): void {
    if (this.socket?.connected) (this.socket as Socket).emit(what, wish);
  }

  private sayOffers(): void {
    if (this.offers) this.say('offers', { offers: [...this.offers] });
  }

  private accepted(): SourceId[] {
    const sources = this.view()?.people.flatMap((person) => person.sources) ?? [];
    return sources.filter(({ isAccepted }) => isAccepted).map(({ source }) => source);
  }

  /** @param which null: everything */
  private publishAgain(which: Publisher | null): void {
    for (const publisher of which === null ? [...this.sending.keys()] : [which])
      this.inOrder(() => this.publish(publisher));
  }

  private async publish(publisher: Publisher): Promise<void> {
    const { socket } = this;
    const sent = this.sending.get(publisher);
    if (!socket?.connected || !sent) return;
    sent.peer?.close();
    const peer = new RTCPeerConnection({ iceServers: [] });
    sent.peer = peer;
    const isOver = () => this.sending.get(publisher)?.peer !== peer;
    onBroken(peer, () => {
      if (!isOver()) this.publishAgain(publisher);
    });
    const sdp = await makeOffer(peer, sent.stream);
    const answer = await ask(socket, 'publish', { publisher, sdp }).catch(
      () => ({ ok: false, problem: 'media_away' }) as const,
    );
    if (isOver()) return;
    if (answer.ok) await peer.setRemoteDescription({ type: 'answer', sdp: answer.sdp });
    else if (answer.problem !== 'not_allowed')
      setTimeout(() => {
        // While the media server is away it is no use; `publish_again` says when it is back.
        if (!isOver() && this.view()?.media) this.publishAgain(publisher);
      }, RETRY_MS);
  }

  private publicationOf(publisher: Publisher): number | null {
    const view = this.view();
    if (!view) return null;
    if (publisher === PROGRAMME_PUBLISHER) return view.programme;
    const sources = view.people.flatMap((person) => person.sources);
    return sources.find(({ source }) => source === publisher)?.publication ?? null;
  }

  private reconcile(): void {
    for (const [publisher, watched] of this.watched) {
      const stays = this.wanted.includes(publisher) && this.publicationOf(publisher) === watched.publication;
      if (!stays) this.drop(publisher);
    }
    for (const publisher of this.wanted) {
      if (!this.watched.has(publisher) && this.publicationOf(publisher) !== null) {
        this.inOrder(() => this.watch(publisher));
      }
    }
  }

  private async watch(publisher: Publisher): Promise<void> {
    const { socket } = this;
    const publication = this.publicationOf(publisher);
    if (!socket?.connected || publication === null) return;
    if (this.watched.has(publisher) || !this.wanted.includes(publisher)) return;
    const peer = new RTCPeerConnection({ iceServers: [] });
    const watched: Watched = { publication, peer, stream: new MediaStream(), watchId: null };
    this.watched.set(publisher, watched);
    onBroken(peer, () => this.again(publisher, watched));
    try {
      const asked = await ask(socket, 'watch', { publisher });
      if (!asked.ok) throw new Error(asked.problem);
      watched.watchId = asked.watchId;
      const sdp = await makeAnswer(peer, asked.sdp, watched.stream);
      const agreed = await ask(socket, 'answer', { watchId: asked.watchId, sdp });
      if (!agreed.ok) throw new Error(agreed.problem);
      if (this.watched.get(publisher) === watched) {
        this.streams.set({ ...this.streams(), [publisher]: watched.stream });
      }
    } catch {
      setTimeout(() => this.again(publisher, watched), RETRY_MS);
    }
  }

  private again(publisher: Publisher, watched: Watched): void {
    if (this.watched.get(publisher) !== watched) return;
    this.drop(publisher);
    this.reconcile();
  }

  private drop(publisher: Publisher): void {
    const watched = this.watched.get(publisher);
    if (!watched) return;
    this.watched.delete(publisher);
    watched.peer.close();
    if (watched.watchId && this.socket?.connected) this.socket.emit('unwatch', { watchId: watched.watchId });
    this.streams.set(
      Object.fromEntries(Object.entries(this.streams()).filter(([other]) => other !== publisher)),
    );
  }

  /** Public only for the specs. */
  async loadClient(): Promise<typeof connectSocket> {
    for (;;) {
      try {
        return (await import('socket.io-client')).io;
      } catch {
        this.status.set('lost');
        await new Promise((again) => setTimeout(again, RETRY_MS));
      }
    }
  }
}

type Streams = Readonly<Partial<Record<Publisher, MediaStream>>>;

type Said = 'offers' | 'stage' | 'accept' | 'ask' | 'decline';
type Order = 'publish' | 'watch' | 'answer';
type Wish<K extends Order> = Parameters<RoomToServer[K]>[0];
type Answer<K extends Order> = Parameters<Parameters<RoomToServer[K]>[1]>[0];

/** The socket's own typing loses the answer where a time limit is set. */
function ask<K extends Order>(socket: RoomSocket, order: K, request: Wish<K>): Promise<Answer<K>> {
  return (socket as Socket).timeout(ANSWER_PATIENCE_MS).emitWithAck(order, request) as Promise<Answer<K>>;
}
