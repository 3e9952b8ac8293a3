import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { FollowAnswer, StreamEvent } from '@juncta/contract/events';
import { EventFeed } from './event-feed';

type Handler = (...args: never[]) => void;

/** A socket that a spec opens, breaks and speaks through. */
class FakeSocket {
  connected = false;
  active = true;
  answer: FollowAnswer = { ok: true, startAfresh: false };
  readonly asked: { stream: string; after: number }[] = [];
  readonly letGo: string[] = [];
  private readonly handlers = new Map<string, Handler>();

  on(event: string, handler: Handler): this {
    this.handlers.set(event, handler);
    return this;
  }
  timeout(): this {
    return this;
  }
  emitWithAck(_event: string, request: { stream: string; after: number }): Promise<FollowAnswer> {
    this.asked.push(request);
    return Promise.resolve(this.answer);
  }
  emit(_event: 'unfollow', stream: string): void {
    this.letGo.push(stream);
  }
  connects = 0;
  connect(): void {
    this.connects += 1;
    this.active = true;
  }
  disconnect(): void {
    this.active = false;
    if (this.connected) this.hear('disconnect');
  }
  hear(event: string, ...args: unknown[]): void {
    if (event === 'connect') this.connected = true;
    if (event === 'disconnect') this.connected = false;
    (this.handlers.get(event) as (...all: unknown[]) => void)(...args);
  }
}

const event = (seq: number): StreamEvent => ({
  stream: 'shows',
  seq,
  atMs: 0,
  type: 'series.created',
  payload: { series: { id: String(seq), name: '', recurrence: null, evergreenUrl: '' } },
});

describe('event feed', () => {
  let socket: FakeSocket;
  let feed: EventFeed;
  let got: number[];
  let afresh: number;

  beforeEach(async () => {
    socket = new FakeSocket();
    got = [];
    afresh = 0;
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    feed = TestBed.inject(EventFeed);
    spyOn(feed, 'loadClient').and.resolveTo((() => socket) as never);
    feed.follow(
      'list',
      'shows',
      4,
      () => (afresh += 1),
      ({ seq }) => got.push(seq),
    );
    await settle();
  });
  const settle = () => new Promise((done) => setTimeout(done));

  it('follows from the number that the list contained', async () => {
    expect(socket.asked).toEqual([]);
    socket.hear('connect');
    expect(socket.asked).toEqual([{ stream: 'shows', after: 4 }]);
    socket.hear('events', [event(5), event(6)]);
    expect(got).toEqual([5, 6]);
  });

  it('asks for what is missing, and hands nothing on twice or out of order', () => {
    socket.hear('connect');
    socket.hear('events', [event(6)]);
    expect(got).toEqual([]);
    expect(socket.asked.at(-1)).toEqual({ stream: 'shows', after: 4 });
    expect(socket.asked.length).toBe(2);
    socket.hear('events', [event(5), event(6), event(7)]);
    expect(got).toEqual([5, 6, 7]);
  });

  it('serves two that follow one stream from different numbers, each with what it has not had', () => {
    const others: number[] = [];
    feed.follow(
      'other',
      'shows',
      2,
      () => undefined,
      ({ seq }) => others.push(seq),
    );
    socket.hear('connect');
    expect(socket.asked.map(({ after }) => after)).toEqual([4, 2]);
    socket.hear('events', [event(3), event(4), event(5)]);
    expect([got, others]).toEqual([[5], [3, 4, 5]]);
    feed.unfollow('other');
    expect(socket.letGo).withContext('somebody follows it still').toEqual([]);
    socket.hear('events', [event(6)]);
    expect([got, others]).toEqual([
      [5, 6],
      [3, 4, 5],
    ]);
    feed.unfollow('list');
    expect(socket.letGo).toEqual(['shows']);
  });

  it('lets go of a stream that somebody exchanges for another', () => {
    socket.hear('connect');
    feed.follow(
      'list',
      'team',
      9,
      () => undefined,
      () => undefined,
    );
    expect(socket.asked.at(-1)).toEqual({ stream: 'team', after: 9 });
    expect(socket.letGo).toEqual(['shows']);
    socket.hear('events', [event(5)]);
    expect(got).toEqual([]);
  });

  it('says when the connection is lost, and goes on from its last number', () => {
    socket.hear('connect');
    socket.hear('events', [event(5)]);
    socket.hear('disconnect');
    expect(feed.connected()).toBeFalse();
    socket.hear('connect');
    expect(feed.connected()).toBeTrue();
    expect(socket.asked.at(-1)).toEqual({ stream: 'shows', after: 5 });
  });

  it('has the list read again when the server no longer keeps what is missing', async () => {
    socket.answer = { ok: true, startAfresh: true };
    socket.hear('connect');
    await settle();
    expect(afresh).toBe(1);
  });

  it('asks again when the server could not look it up, or never answered', async () => {
    jasmine.clock().install();
    try {
      socket.answer = { ok: false, startAfresh: false };
      socket.hear('connect');
      await Promise.resolve();
      spyOn(socket, 'emitWithAck').and.callFake((_event, request) => {
        socket.asked.push(request);
        return Promise.reject(new Error('operation has timed out'));
      });
      for (let i = 0; i < 4; i++) await Promise.resolve();
      jasmine.clock().tick(1000);
      for (let i = 0; i < 4; i++) await Promise.resolve();
      jasmine.clock().tick(1000);
      expect(socket.asked).toEqual(Array(3).fill({ stream: 'shows', after: 4 }));
      expect(afresh).toBe(0);
      for (let i = 0; i < 4; i++) await Promise.resolve();
      // What is over is asked for no more.
      socket.hear('disconnect');
      jasmine.clock().tick(5000);
      expect(socket.asked.length).toBe(3);
    } finally {
      jasmine.clock().uninstall();
    }
  });

  it('tells of the end of the session, whichever way it comes', () => {
    let told = 0;
    feed.whenSignedOut(() => (told += 1));
    socket.hear('signed_out');
    socket.hear('connect_error', new Error('signed_out'));
    expect(told).toBe(2);
  });

  for (const [what, event, ...args] of [
    ['said goodbye', 'disconnect', 'io server disconnect'],
    ['let nobody in', 'connect_error', new Error('database_away')],
  ] as const) {
    it(`tries again by itself when the server ${what}, and not once it is stopped`, () => {
      jasmine.clock().install();
      try {
        socket.active = false;
        socket.hear(event, ...args);
        expect(feed.connected()).toBeFalse();
        jasmine.clock().tick(1000);
        expect(socket.connects).toBe(1);
        socket.active = false;
        socket.hear(event, ...args);
        feed.stop();
        jasmine.clock().tick(5000);
        expect(socket.connects).toBe(1);
      } finally {
        jasmine.clock().uninstall();
      }
    });
  }

  it('is silent once stopped', () => {
    socket.hear('connect');
    feed.stop();
    socket.hear('events', [event(5)]);
    expect(got).toEqual([]);
    expect(socket.connected).toBeFalse();
    expect(feed.connected()).toBeTrue();
  });
});
