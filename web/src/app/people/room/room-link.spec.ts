import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { RoomAuth, RoomPerson, RoomView } from '@juncta/contract/people';
import { PROGRAMME_PUBLISHER } from '@juncta/core/people';
import { makeAnswer, makeOffer } from './peer';
import { RoomLink } from './room-link';

const ODA = 'c0000000-0000-4000-8000-000000000001';
const TAB = 'c0000000-0000-4000-8000-0000000000ff';
const SENDS = { video: true, audio: false };
const EMPTY: RoomView = { you: null, people: [], stage: [], programme: null, media: true };
const WATCH_ID = 'c0000000-0000-4000-8000-0000000000aa';

/** A socket that behaves as a real one does when it is closed, and a media server behind it that really agrees. */
class FakeSocket {
  connected = false;
  active = true;
  connects = 0;
  mediaAway = false;
  readonly emitted: [event: string, ...args: unknown[]][] = [];
  readonly asked: [order: string, request?: unknown][] = [];
  private readonly handlers = new Map<string, (...args: unknown[]) => void>();
  private readonly peers: RTCPeerConnection[] = [];

  constructor(readonly auth: RoomAuth) {}

  on(event: string, handler: (...args: unknown[]) => void): this {
    this.handlers.set(event, handler);
    return this;
  }
  emit(event: string, ...args: unknown[]): void {
    this.emitted.push([event, ...args]);
  }
  timeout(): this {
    return this;
  }
  async emitWithAck(order: string, request?: unknown): Promise<unknown> {
    this.asked.push([order, request]);
    if (this.mediaAway) return { ok: false, problem: 'media_away' };
    const peer = new RTCPeerConnection();
    this.peers.push(peer);
    if (order === 'publish')
      return { ok: true, sdp: await makeAnswer(peer, (request as { sdp: string }).sdp, new MediaStream()) };
    if (order === 'watch') return { ok: true, watchId: WATCH_ID, sdp: await makeOffer(peer, video()) };
    return { ok: true };
  }
  connect(): void {
    this.connects += 1;
    this.active = true;
  }
  disconnect(): void {
    this.active = false;
    if (this.connected) this.hear('disconnect', 'io client disconnect');
  }
  hear(event: string, ...args: unknown[]): void {
    if (event === 'connect') this.connected = true;
    if (event === 'disconnect') this.connected = false;
    this.handlers.get(event)!(...args);
  }
  ordersOf(kind: string): unknown[] {
    return this.asked.filter(([order]) => order === kind).map(([, request]) => request);
  }
  close(): void {
    for (const peer of this.peers) peer.close();
  }
}

const video = () => document.createElement('canvas').captureStream();
const person = (more: Partial<RoomPerson> = {}): RoomPerson => ({
  personId: ODA,
  publication: 7,
  sends: { video: true, audio: true },
  sign: 'wings',
  ...more,
});

describe('a tab’s place in the room', () => {
  let room: RoomLink;
  const sockets: FakeSocket[] = [];
  const socket = () => sockets.at(-1)!;

  beforeEach(() => {
    sockets.length = 0;
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    room = TestBed.inject(RoomLink);
    const io = (_namespace: string, { auth }: { auth: RoomAuth }) => {
      sockets.push(new FakeSocket(auth));
      return socket();
    };
    spyOn(room, 'loadClient').and.resolveTo(io as never);
  });
  afterEach(() => {
    room.leave();
    for (const one of sockets) one.close();
  });

  async function enter(auth: Partial<RoomAuth> = {}): Promise<FakeSocket> {
    await room.enter({ placeId: TAB, ...auth });
    socket().hear('connect');
    socket().hear('room', EMPTY);
    return socket();
  }
  async function until(holds: () => boolean): Promise<void> {
    for (let turns = 0; turns < 2000; turns++) {
      if (holds()) return;
      await new Promise((turn) => setTimeout(turn, 10));
    }
    throw new Error('it did not come about');
  }

  it('is taken, and taken again when the line was lost', async () => {
    await room.enter({ placeId: TAB });
    expect(room.status()).toBe('connecting');
    socket().hear('connect');
    expect(room.status()).toBe('in');
    socket().hear('disconnect', 'transport close');
    expect(room.status()).toBe('lost');
    socket().hear('connect');
    expect(room.status()).toBe('in');
    expect(sockets.length).toBe(1);
  });

  it('is tried again by hand where the server said goodbye', async () => {
    await enter();
    jasmine.clock().install();
    try {
      socket().active = false;
      socket().hear('disconnect', 'io server disconnect');
      jasmine.clock().tick(1000);
      expect(socket().connects).toBe(1);
    } finally {
      jasmine.clock().uninstall();
    }
  });

  it('is given back for good: nobody is left behind in a room that was left', async () => {
    const first = await enter({ showId: ODA });
    jasmine.clock().install();
    try {
      await room.enter({ placeId: TAB, showId: TAB });
      jasmine.clock().tick(10_000);
      expect(first.connects).toBe(0);
      expect(room.status()).toBe('connecting');
      socket().hear('connect');
      // Whatever still comes from there is no news of this room.
      first.hear('room', { ...EMPTY, you: ODA });
      first.hear('disconnect', 'transport close');
      expect(room.view()?.you ?? null).toBeNull();
      expect(room.status()).toBe('in');
      room.leave();
      jasmine.clock().tick(10_000);
      expect(socket().connects).toBe(0);
      expect(room.status()).toBe('away');
    } finally {
      jasmine.clock().uninstall();
    }
  });

  it('is asked about when the link is in use elsewhere, and taken over when it is meant', async () => {
    await room.enter({ placeId: TAB });
    socket().hear('connect_error', new Error('elsewhere'));
    expect(room.status()).toBe('elsewhere');
    room.takeOver();
    await until(() => sockets.length === 2);
    expect(socket().auth).toEqual({ placeId: TAB, takeOver: true });
  });

  for (const [news, status] of [
    ['moved', 'moved'],
    ['signed_out', 'signed_out'],
  ] as const) {
    it(`ends when it is ${news}, and is not tried again`, async () => {
      await enter();
      socket().hear(news);
      expect(room.status()).toBe(status);
      expect(socket().active).toBeFalse();
      expect(socket().connects).toBe(0);
    });
  }

  it('sends what it has to send, again after each break, and the stage with it', async () => {
    await enter();
    room.setStage([ODA]);
    room.send(video(), SENDS);
    await until(() => socket().ordersOf('publish').length === 1);
    const [request] = socket().ordersOf('publish') as [{ sdp: string; sends: unknown }];
    expect(request.sends).toEqual(SENDS);
    expect(request.sdp).toContain('m=video');
    socket().hear('disconnect', 'transport close');
    socket().hear('connect');
    await until(() => socket().ordersOf('publish').length === 2);
    expect(socket().emitted.filter(([event]) => event === 'stage')).toEqual([
      ['stage', { people: [ODA] }],
      ['stage', { people: [ODA] }],
    ]);
  });

  it('sends anew when the media server has come back', async () => {
    await enter();
    socket().mediaAway = true;
    room.send(video());
    await until(() => socket().ordersOf('publish').length === 1);
    socket().mediaAway = false;
    socket().hear('publish_again');
    await until(() => socket().ordersOf('publish').length === 2);
    expect(socket().ordersOf('publish').length).toBe(2);
  });

  it('says what of it is on without a new line, and takes all of it back', async () => {
    await enter();
    room.send(video());
    await until(() => socket().ordersOf('publish').length === 1);
    room.setSends({ video: false, audio: false });
    expect(socket().emitted).toContain(['sends', { video: false, audio: false }]);
    room.send(null);
    await until(() => socket().asked.at(-1)?.[0] === 'unpublish');
    expect(socket().ordersOf('publish').length).toBe(1);
  });

  it('receives who is wanted and there, and nobody else', async () => {
    await enter();
    room.want([ODA, PROGRAMME_PUBLISHER]);
    expect(socket().ordersOf('watch')).toEqual([]);
    socket().hear('room', { ...EMPTY, people: [person()] });
    await until(() => room.streams()[ODA] !== undefined);
    expect(socket().ordersOf('watch')).toEqual([{ publisher: ODA }]);
    expect(room.streams()[ODA]!.getVideoTracks().length).toBe(1);
    expect(Object.keys(room.streams())).toEqual([ODA]);
    room.want([]);
    expect(room.streams()).toEqual({});
    expect(socket().emitted).toContain(['unwatch', { watchId: WATCH_ID }]);
  });

  it('receives anew whoever sends anew', async () => {
    await enter();
    room.want([ODA]);
    socket().hear('room', { ...EMPTY, people: [person()] });
    await until(() => room.streams()[ODA] !== undefined);
    const before = room.streams()[ODA];
    socket().hear('room', { ...EMPTY, people: [person({ publication: 8 })] });
    await until(() => room.streams()[ODA] !== undefined && room.streams()[ODA] !== before);
    expect(socket().ordersOf('watch').length).toBe(2);
    socket().hear('room', { ...EMPTY, people: [person({ publication: null })] });
    expect(room.streams()).toEqual({});
  });
});
