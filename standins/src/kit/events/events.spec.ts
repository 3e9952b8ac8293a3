import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { Events, type EventRules } from './events';

const MINUTE = 60_000;
const SLOT = Date.UTC(2027, 4, 20, 19);
const rules: EventRules = {
  app: 'tower',
  encoder: { maxHeight: 720, maxFramesPerS: 30, maxKbps: 3000, keyframeS: 2 },
  goesPublic: 'by_api',
  lapseMs: 13 * MINUTE,
  patienceMs: MINUTE,
  afterPatience: 'gap',
  cleanEnd: 'waits',
  secondSender: 'refused',
  longestMs: 60 * MINUTE,
  crowd: { seed: 1, most: 5 },
  delayS: () => 5,
};

describe('the events of a place', () => {
  let dir: string;
  let nowMs: number;
  beforeEach(() => {
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-events-'));
    nowMs = SLOT - 60 * MINUTE;
  });
  afterEach(() => rmSync(dir, { recursive: true }));

  const open = (change: Partial<EventRules> = {}) =>
    new Events(dir, { ...rules, ...change }, () => nowMs, pino({ level: 'silent' }));
  const make = (events: Events, startsAt: string | null = new Date(SLOT).toISOString()) =>
    events.make(
      { title: 'Rye', description: '', startsAt, settings: {} },
      { account: 'a', placement: 'p', reference: null },
    );
  const send = (events: Events, key: string, app = 'tower') => events.judge(app, key, () => undefined);

  it('lapse when nothing has come so long after their slot, and not a ms before', () => {
    const events = open();
    const event = make(events);
    nowMs = SLOT + 13 * MINUTE;
    events.tick();
    expect(event.state).toBe('booked');
    nowMs += 1;
    events.tick();
    expect(event.state).toBe('lapsed');
    expect(send(events, event.kept.key)).toEqual(jasmine.objectContaining({ ok: false }));
  });

  it('do not lapse without a slot, where the place waits, or with a feed', () => {
    const waiting = open({ lapseMs: null });
    const [patient, slotless] = [make(waiting), make(open(), null)];
    const fed = open();
    const event = make(fed);
    const verdict = send(fed, event.kept.key);
    nowMs = SLOT + 24 * 60 * MINUTE;
    waiting.tick();
    fed.tick();
    expect([patient.state, slotless.state, event.state]).toEqual(['booked', 'booked', 'receiving']);
    if (verdict.ok) verdict.sink.ended(true);
  });

  it('take one sender for a key, and only theirs', () => {
    const events = open();
    const event = make(events);
    expect(send(events, 'guessed').ok).toBeFalse();
    expect(send(events, event.kept.key, 'other').ok).toBeFalse();
    const first = send(events, event.kept.key);
    expect(first.ok).toBeTrue();
    expect(send(events, event.kept.key)).toEqual(
      jasmine.objectContaining({ says: 'Somebody sends with this key already.' }),
    );
    if (first.ok) first.sink.ended(true);
    expect(event.state).withContext('it waits to be ended').toBe('booked');
  });

  it('end with a clean end where the place says so', () => {
    const events = open({ cleanEnd: 'ends' });
    const event = make(events);
    const verdict = send(events, event.kept.key);
    if (verdict.ok) verdict.sink.ended(true);
    expect(event.state).toBe('ended');
  });

  it('are published with a picture only, and kept over a restart', () => {
    const events = open();
    const event = make(events);
    expect(events.publish(event)).toBeFalse();
    expect(open().find(event.kept.id)?.kept.title).toBe('Rye');
  });
});
