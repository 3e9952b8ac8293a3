import { evergreenShow, type SeriesShow } from './evergreen';

describe('the evergreen link of a series leads', () => {
  const MINUTE = 60_000;
  const show = (startMinute: number | null, change: Partial<SeriesShow> = {}): SeriesShow => ({
    startsAtMs: startMinute === null ? null : startMinute * MINUTE,
    plannedMinutes: 60,
    startedAtMs: null,
    endedAtMs: null,
    archivedAtMs: null,
    ...change,
  });
  for (const [what, shows, nowMinute, wanted] of [
    ['nowhere without shows', [], 0, null],
    ['to the next', [show(300), show(100), show(200)], 50, 1],
    [
      'to the one that is on, whatever else is planned',
      [show(100), show(90, { startedAtMs: 95 * MINUTE })],
      99,
      1,
    ],
    [
      'to the one that began last of those that are on',
      [show(90, { startedAtMs: 90 }), show(80, { startedAtMs: 95 }), show(85, { startedAtMs: 85 })],
      99,
      1,
    ],
    ['to one that should have begun', [show(100), show(200)], 129, 0],
    ['past one that nobody came to', [show(100), show(200)], 131, 1],
    [
      'past what has ended, is put away, or has no date',
      [show(100, { endedAtMs: 1 }), show(110, { archivedAtMs: 1 }), show(null)],
      0,
      null,
    ],
  ] as const) {
    it(what, () =>
      expect(evergreenShow(shows, nowMinute * MINUTE)).toBe(wanted === null ? null : shows[wanted]),
    );
  }
});
