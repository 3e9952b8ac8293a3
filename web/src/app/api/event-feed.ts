import { Injectable, signal } from '@angular/core';
import { receive, startReader, type StreamReader } from '@juncta/core/events';
import type {
  ClientToServer,
  FollowAnswer,
  ServerToClient,
  StreamEvent,
  StreamName,
  TopicOf,
} from '@juncta/contract/events';
import type { ProgrammeReport } from '@juncta/contract/relay';
import type { io as connectSocket, Socket } from 'socket.io-client';

type EventSocket = Socket<ServerToClient, ClientToServer>;

const RETRY_MS = 1000;
const ANSWER_MS = 10_000;

interface Following {
  readonly stream: StreamName;
  reader: StreamReader<StreamEvent>;
  readonly deliver: (event: StreamEvent) => void;
  /** The server no longer keeps what we miss: the list has to be read again. */
  readonly afresh: () => void;
}

/** The team's socket: follows numbered streams and hands every event on once, in order, over all breaks. */
@Injectable({ providedIn: 'root' })
export class EventFeed {
  private socket: EventSocket | undefined;
  /** By who follows. */
  private readonly following = new Map<string, Following>();
  private onSignedOut = () => {};
  private onViewers: ServerToClient['viewers'] = () => {};
  private onFigures: (programme: ProgrammeReport) => void = () => {};

  /** False while the connection is lost: what is shown may be old. */
  readonly connected = signal(true);

  /**
   * Follows a stream after the number up to which a list was read. Each who follows has one stream at a time: asked again,
   * it goes on from there, or with another.
   */
  follow<S extends StreamName>(
    who: string,
    stream: S,
    after: number,
    afresh: () => void,
    deliver: (event: StreamEvent<TopicOf<S>>) => void,
  ): void {
    const before = this.following.get(who);
    this.following.set(who, {
      stream,
      reader: startReader(after),
      deliver: deliver as Following['deliver'],
      afresh,
    });
    if (before && before.stream !== stream) this.letGo(before.stream);
    if (this.socket?.connected) void this.ask(who);
    else void this.connect();
  }

  unfollow(who: string): void {
    const before = this.following.get(who);
    this.following.delete(who);
    if (before) this.letGo(before.stream);
  }

  /** Not after a sign-out, which ends all that is followed. */
  follows(who: string): boolean {
    return this.following.has(who);
  }

  /** Somebody else here may follow it still. */
  private letGo(stream: StreamName): void {
    if ([...this.following.values()].some((other) => other.stream === stream)) return;
    if (this.socket?.connected) this.socket.emit('unfollow', stream);
  }

  whenSignedOut(act: () => void): void {
    this.onSignedOut = act;
  }

  /** Figures that change all the time, for whoever follows a show's `programme`. */
  whenFigures(act: (programme: ProgrammeReport) => void): void {
    this.onFigures = act;
  }

  whenViewers(act: ServerToClient['viewers']): void {
    this.onViewers = act;
  }

  stop(): void {
    const { socket } = this;
    this.following.clear();
    this.socket = undefined;
    socket?.disconnect();
    this.connected.set(true);
  }

  private async connect(): Promise<void> {
    if (this.socket) return;
    const io = await this.loadClient();
    if (this.socket || this.following.size === 0) return;
    const socket: EventSocket = io({
      path: '/api/socket',
      transports: ['websocket'],
      reconnectionDelayMax: 5000,
    });
    this.socket = socket;
    socket.on('connect', () => {
      this.connected.set(true);
      for (const who of this.following.keys()) void this.ask(who);
    });
    // Where the server said goodbye or no, the client does not try again by itself.
    const again = () => {
      if (socket.active || this.socket !== socket) return;
      setTimeout(() => {
        if (this.socket === socket) socket.connect();
      }, RETRY_MS);
    };
    socket.on('disconnect', () => {
      this.connected.set(false);
      again();
    });
    socket.on('connect_error', (error) => {
      this.connected.set(false);
      if (error.message === 'signed_out') this.onSignedOut();
      else again();
    });
    socket.on('signed_out', () => this.onSignedOut());
    socket.on('figures', (_atMs, programme) => this.onFigures(programme));
    socket.on('viewers', (counted) => this.onViewers(counted));
    socket.on('events', (batch) => this.take(batch));
  }

  /** Fetched when it is needed, which may be the moment at which the server is away. Public only for the specs. */
  async loadClient(): Promise<typeof connectSocket> {
    for (;;) {
      try {
        return (await import('socket.io-client')).io;
      } catch {
        this.connected.set(false);
        await new Promise((again) => setTimeout(again, RETRY_MS));
      }
    }
  }

  private take(batch: readonly StreamEvent[]): void {
    for (const [who, following] of this.following) {
      const mine = batch.filter((event) => event.stream === following.stream);
      if (mine.length === 0) continue;
      const got = receive(following.reader, mine);
      following.reader = got.reader;
      for (const event of got.deliver) following.deliver(event);
      if (got.askAfter !== null) void this.ask(who);
    }
  }

  private async ask(who: string): Promise<void> {
    const following = this.following.get(who);
    const { socket } = this;
    if (!following || !socket) return;
    const wanted = { stream: following.stream, after: following.reader.delivered };
    // A line that breaks meanwhile never answers; the next one asks anew.
    const asked = socket.timeout(ANSWER_MS).emitWithAck('follow', wanted) as Promise<FollowAnswer>;
    const answer = await asked.catch(() => null);
    if (this.following.get(who) !== following) return;
    if (answer?.ok) {
      if (answer.startAfresh) following.afresh();
      return;
    }
    // The server could not look it up just now: nobody is to look at a page that nothing tells anything any more.
    setTimeout(() => {
      if (this.socket === socket && socket.connected && this.following.get(who) === following)
        void this.ask(who);
    }, RETRY_MS);
  }
}
