import { receive, startReader, type StreamReader } from '@juncta/core/events';
import {
  streamOf,
  type ClientToServer,
  type FollowAnswer,
  type ServerToClient,
  type StreamEvent,
  type StreamName,
} from '@juncta/contract/events';
import { createShow, listShows, saveShow } from '@juncta/contract/shows';
import { removeMember, signOut } from '@juncta/contract/team';
import { io, type Socket } from 'socket.io-client';
import { eq, lte } from 'drizzle-orm';
import { openHouse, showText, type House } from '../testing/house';
import type { Client } from '../testing/client';
import { event } from './schema';
import { appendEvent, BATCH_SIZE } from './store';

/** A reader as the web has one: follows a stream and puts it in order. */
class Follower {
  readonly events: StreamEvent[] = [];
  signedOut = false;
  private reader: StreamReader<StreamEvent> = startReader();
  readonly socket: Socket<ServerToClient, ClientToServer>;
  private changed = () => {};

  constructor(url: string, client: Client) {
    this.socket = io(url, {
      path: '/api/socket',
      transports: ['websocket'],
      extraHeaders: { Cookie: client.cookieHeader },
      reconnectionDelay: 50,
      reconnectionDelayMax: 100,
    });
    this.socket.on('events', (batch) => {
      const got = receive(this.reader, batch);
      this.reader = got.reader;
      this.events.push(...got.deliver);
      this.changed();
    });
    this.socket.on('signed_out', () => {
      this.signedOut = true;
      this.changed();
    });
  }

  async follow(after: number, stream: StreamName = 'shows'): Promise<FollowAnswer> {
    this.reader = startReader(after);
    return this.socket.emitWithAck('follow', { stream, after });
  }

  async until(condition: () => boolean): Promise<void> {
    while (!condition()) await new Promise<void>((done) => (this.changed = done));
  }

  get seqs(): number[] {
    return this.events.map(({ seq }) => seq);
  }
}

const count = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, i) => from + i);

describe('event streams', () => {
  let house: House;
  let followers: Follower[];
  const follower = (client: Client) => {
    const made = new Follower(house.url, client);
    followers.push(made);
    return made;
  };
  beforeEach(async () => {
    house = await openHouse();
    followers = [];
  });
  afterEach(async () => {
    for (const { socket } of followers) socket.disconnect();
    await house.close();
  });

  const makeShows = (n: number) =>
    Promise.all(
      Array.from({ length: n }, () =>
        house.as.host.get(createShow, { body: { id: crypto.randomUUID(), text: showText() } }),
      ),
    );

  it('bring every change to everybody, in the order of their numbers, without a gap', async () => {
    const { seq } = await house.as.moderator.get(listShows);
    const readers = [follower(house.as.moderator), follower(house.as.producer)];
    for (const reader of readers) await reader.follow(seq);
    await makeShows(30);
    for (const reader of readers) {
      await reader.until(() => reader.events.length === 30);
      expect(reader.seqs).toEqual(count(seq + 1, seq + 30));
    }
  });

  it('are each of one show: whoever follows one hears nothing of the others, and nothing after letting go', async () => {
    const [ours, theirs] = (await makeShows(2)).map(({ id }) => id);
    const { app } = house.server;
    const mark = (showId: string) =>
      app.db.transaction((tx) =>
        appendEvent(tx, app.clock, streamOf('programme', showId), 'marks.changed', { showId, marks: [] }),
      );
    const reader = follower(house.as.moderator);
    await reader.follow(0, streamOf('programme', ours!));
    await mark(theirs!);
    await mark(ours!);
    await reader.until(() => reader.events.length === 1);
    expect(reader.events[0]!.stream).toBe(streamOf('programme', ours!));
    reader.socket.emit('unfollow', streamOf('programme', ours!));
    await reader.follow(0, streamOf('programme', theirs!));
    await mark(ours!);
    await mark(theirs!);
    await reader.until(() => reader.events.length === 3);
    expect(reader.events.slice(1).map(({ stream }) => stream)).toEqual(
      Array(2).fill(streamOf('programme', theirs!)),
    );
  });

  it('are as many as a page needs, and no more', async () => {
    const reader = follower(house.as.host);
    const answers = [];
    for (let i = 0; i < 20; i++)
      answers.push((await reader.follow(0, streamOf('chat', crypto.randomUUID()))).ok);
    expect(answers.filter((ok) => ok).length).toBe(16);
  });

  it('are not followed by whoever lets go while they are looked up', async () => {
    const reader = follower(house.as.host);
    const streams = Array.from({ length: 20 }, () => streamOf('chat', crypto.randomUUID()));
    const asked = streams.map((stream) => {
      const answer = reader.socket.emitWithAck('follow', { stream, after: 0 });
      reader.socket.emit('unfollow', stream);
      return answer;
    });
    await Promise.all(asked);
    expect((await reader.follow(0)).ok).toBeTrue();
  });

  it('give whoever was away everything since their number, however much', async () => {
    const { db, clock } = house.server.app;
    const series = (n: number) => ({
      id: crypto.randomUUID(),
      name: `Series ${n}`,
      recurrence: null,
      evergreenUrl: '',
    });
    await db.transaction(async (tx) => {
      for (let n = 1; n <= BATCH_SIZE + 20; n++) {
        await appendEvent(tx, clock, 'shows', 'series.created', { series: series(n) });
      }
    });
    const reader = follower(house.as.moderator);
    await reader.follow(1);
    await reader.until(() => reader.events.length === BATCH_SIZE + 19);
    expect(reader.seqs).toEqual(count(2, BATCH_SIZE + 20));
  });

  it('tell whoever asks for what is no longer kept to start afresh', async () => {
    await makeShows(5);
    await house.server.app.db.delete(event).where(lte(event.seq, 3));
    const reader = follower(house.as.moderator);
    expect(await reader.follow(2)).toEqual({ ok: true, startAfresh: true });
    expect(await reader.follow(3)).toEqual({ ok: true, startAfresh: false });
    expect(await reader.follow(99)).toEqual({ ok: true, startAfresh: true });
  });

  it('write no event for a change that was refused', async () => {
    const [show] = await makeShows(1);
    await house.as.host.refused(saveShow, {
      params: { showId: show!.id },
      body: { version: 7, text: showText() },
    });
    const kept = await house.server.app.db.select().from(event).where(eq(event.stream, 'shows'));
    expect(kept.length).toBe(1);
  });

  it('go on after the database was gone, with nothing lost', async () => {
    const reader = follower(house.as.moderator);
    await reader.follow(0);
    await makeShows(2);
    await reader.until(() => reader.events.length === 2);
    house.database.cut();
    const refusal = await house.as.host.refused(createShow, {
      body: { id: crypto.randomUUID(), text: showText() },
    });
    expect([refusal.code, refusal.retryAfterS]).toEqual(['database_away', jasmine.any(Number)]);
    const sick = await fetch(`${house.url}/healthz`);
    expect([sick.status, ((await sick.json()) as { parts: object }).parts]).toEqual([
      503,
      { database: 'down', server: 'up' },
    ]);
    await house.database.mend();
    await makeShows(2);
    await reader.until(() => reader.events.length === 4);
    expect(reader.seqs).toEqual([1, 2, 3, 4]);
    expect((await fetch(`${house.url}/healthz`)).status).toBe(200);
  }, 15_000);

  it('throw a removed member out at once', async () => {
    const reader = follower(house.as.host);
    await reader.follow(0);
    await house.as.producer.get(removeMember, { params: { memberId: house.members.host.id } });
    await reader.until(() => reader.signedOut);
    expect(reader.signedOut).toBeTrue();
  });

  it('are not heard by a browser that has just signed out, however soon they come after', async () => {
    const other = house.stranger();
    for (const [name, value] of house.as.host.cookies) other.cookies.set(name, value);
    const reader = follower(other);
    await reader.follow(0);
    // What comes while the first reading goes on must be settled before.
    await makeShows(1);
    await reader.until(() => reader.events.length === 1);
    await house.as.host.get(signOut);
    await house.as.producer.get(createShow, { body: { id: crypto.randomUUID(), text: showText() } });
    await reader.until(() => reader.signedOut);
    expect(reader.events.length).toBe(1);
  });

  it('are not for strangers, other sites, or nonsense', async () => {
    const stranger = follower(house.stranger());
    const refusal = await new Promise<Error>((done) => stranger.socket.once('connect_error', done));
    expect(refusal.message).toBe('signed_out');

    const foreign = io(house.url, {
      path: '/api/socket',
      transports: ['websocket'],
      reconnection: false,
      extraHeaders: { Cookie: house.as.host.cookieHeader, Origin: 'https://elsewhere.example' },
    });
    await new Promise((done) => foreign.once('connect_error', done));
    expect(foreign.connected).toBeFalse();

    const reader = follower(house.as.host);
    for (const nonsense of [
      null,
      {},
      { stream: 'secrets', after: 0 },
      { stream: 'shows', after: -1 },
      { stream: 'chat', after: 0 },
      { stream: 'chat/x', after: 0 },
    ]) {
      const answer = await reader.socket.emitWithAck('follow', nonsense as never);
      expect(answer.ok).withContext(JSON.stringify(nonsense)).toBeFalse();
    }
  });
});
