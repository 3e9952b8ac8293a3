import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { RoomAuth, RoomPerson, RoomView } from '@juncta/contract/people';
import { PROGRAMME_PUBLISHER } from '@juncta/core/people';
import { sourceId } from '@juncta/core/stage';
import { makeAnswer, makeOffer } from './peer';
import { RoomLink } from './room-link';

const ODA = 'c0000000-0000-4000-8000-000000000001';
const TAB = 'c0000000-0000-4000-8000-0000000000ff';
const CAMERA = sourceId('camera', ODA);
const SCREEN = sourceId('screen', ODA);
const ON_STAGE = [{ source: CAMERA, isSeen: true, isHeard: true }];
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
const person = (publication: number | null = 7): RoomPerson => ({
  personId: ODA,
  sources: [{ source: CAMERA, video: 'there', audio: 'there', publication, isAccepted: true }],
  asked: [],
  sign: 'wings',
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

  const published = () =>
    (socket().ordersOf('publish') as { publisher: string }[]).map((one) => one.publisher);

  it('sends what it has to send, again after each break, and the stage with it', async () => {
    await enter();
    room.setStage(ON_STAGE);
    room.send(CAMERA, video());
    await until(() => published().length === 1);
    const [request] = socket().ordersOf('publish') as [{ publisher: string; sdp: string }];
    expect(request.publisher).toBe(CAMERA);
    expect(request.sdp).toContain('m=video');
    socket().hear('room', { ...EMPTY, people: [person()] });
    socket().hear('disconnect', 'transport close');
    socket().hear('connect');
    await until(() => published().length === 2);
    expect(socket().emitted.filter(([event]) => event === 'stage')).toEqual([
      ['stage', { stage: ON_STAGE }],
      // A server that was restarted has forgotten what was accepted.
      ['stage', { stage: ON_STAGE, accepted: [CAMERA] }],
    ]);
  });

  it('sends several things, each over a connection of its own, and says what there is on every line', async () => {
    const offers = [CAMERA, SCREEN].map((source) => ({ source, video: 'there', audio: 'none' }) as const);
    room.offer(offers);
    room.send(CAMERA, video());
    room.send(SCREEN, video());
    await enter();
    await until(() => published().length >= 2);
    expect(new Set(published())).toEqual(new Set([CAMERA, SCREEN]));
    expect(socket().emitted).toContain(['offers', { offers }]);
    // What was sent as the room was entered may be sent once more by then: only this one counts.
    const ofScreen = () => published().filter((source) => source === SCREEN).length;
    const before = ofScreen();
    socket().hear('publish_again', SCREEN);
    await until(() => ofScreen() > before);
    room.send(SCREEN, null);
    await until(() => socket().asked.at(-1)?.[0] === 'unpublish');
    expect(socket().asked.at(-1)).toEqual(['unpublish', { publisher: SCREEN }]);
  });

  it('sends another device over the connection there is, and another kind of thing over a new one', async () => {
    await enter();
    room.send(CAMERA, video());
    await until(() => published().length === 1);
    room.send(CAMERA, video());
    const audio = new AudioContext();
    const [track] = audio.createMediaStreamDestination().stream.getTracks();
    room.send(SCREEN, video());
    await until(() => published().at(-1) === SCREEN);
    expect(published()).toEqual([CAMERA, SCREEN]);
    room.send(CAMERA, new MediaStream([...video().getTracks(), track!]));
    await until(() => published().length === 3);
    expect(published().at(-1)).toBe(CAMERA);
    await audio.close();
  });

  it('sends anew when the media server has come back', async () => {
    await enter();
    socket().mediaAway = true;
    room.send(CAMERA, video());
    await until(() => published().length === 1);
    socket().mediaAway = false;
    socket().hear('publish_again', null);
    await until(() => published().length === 2);
    expect(published().length).toBe(2);
  });

  it('tells what a desk does not want', async () => {
    await enter();
    const told: string[] = [];
    room.declined.subscribe((source) => told.push(source));
    socket().hear('declined', SCREEN);
    expect(told).toEqual([SCREEN]);
  });

  it('receives who is wanted and there, and nobody else', async () => {
    await enter();
    room.want([CAMERA, PROGRAMME_PUBLISHER]);
    expect(socket().ordersOf('watch')).toEqual([]);
    socket().hear('room', { ...EMPTY, people: [person()] });
    await until(() => room.streams()[CAMERA] !== undefined);
    expect(socket().ordersOf('watch')).toEqual([{ publisher: CAMERA }]);
    expect(room.streams()[CAMERA]!.getVideoTracks().length).toBe(1);
    expect(Object.keys(room.streams())).toEqual([CAMERA]);
    room.want([]);
    expect(room.streams()).toEqual({});
    expect(socket().emitted).toContain(['unwatch', { watchId: WATCH_ID }]);
  });

  it('receives anew whoever sends anew', async () => {
    await enter();
    room.want([CAMERA]);
    socket().hear('room', { ...EMPTY, people: [person()] });
    await until(() => room.streams()[CAMERA] !== undefined);
    const before = room.streams()[CAMERA];
    socket().hear('room', { ...EMPTY, people: [person(8)] });
    await until(() => room.streams()[CAMERA] !== undefined && room.streams()[CAMERA] !== before);
    expect(socket().ordersOf('watch').length).toBe(2);
    socket().hear('room', { ...EMPTY, people: [person(null)] });
    expect(room.streams()).toEqual({});
  });
});
