import fc from 'fast-check';
import {
  canBePutBack,
  OFF_PLAN_MS,
  offPlanMs,
  phaseAt,
  PREPARE_FROM_MS,
  PUT_BACK_WITHIN_MS,
  READY_FROM_MS,
  type ShowTimes,
} from './phase';

const START = Date.UTC(2026, 10, 26, 19);
const planned: ShowTimes = { startsAtMs: START, startedAtMs: null, endedAtMs: null };

describe('phaseAt', () => {
  const table: [string, ShowTimes, number, string, boolean][] = [
    ['no start yet', { ...planned, startsAtMs: null }, START, 'plan', false],
    ['a ms more than a week ahead', planned, START - PREPARE_FROM_MS - 1, 'plan', false],
    ['a week ahead', planned, START - PREPARE_FROM_MS, 'prepare', false],
    ['a ms more than two hours ahead', planned, START - READY_FROM_MS - 1, 'prepare', false],
    ['two hours ahead', planned, START - READY_FROM_MS, 'ready', false],
    ['on the minute', planned, START, 'ready', false],
    ['late and not started', planned, START + 1, 'ready', true],
    ['started', { ...planned, startedAtMs: START + 5 }, START + 6, 'live', false],
    ['started early', { ...planned, startedAtMs: START - 60e3 }, START - 30e3, 'live', false],
    ['ended', { ...planned, startedAtMs: START, endedAtMs: START + 9 }, START + 10, 'wrap', false],
    ['ended without a start', { startsAtMs: null, startedAtMs: 1, endedAtMs: 2 }, 3, 'wrap', false],
  ];
  for (const [name, times, now, phase, overdue] of table) {
    it(`${name}: ${phase}`, () => {
      const got = phaseAt(times, now);
      expect([got.phase, got.overdue] as unknown).toEqual([phase, overdue]);
    });
  }

  it('stays the same until the moment it names, and changes there', () => {
    fc.assert(
      fc.property(fc.integer({ min: -30 * 86400e3, max: 86400e3 }), fc.nat(), (ahead, step) => {
        const now = START + ahead;
        const before = phaseAt(planned, now);
        if (before.changesAtMs === null) {
          expect(phaseAt(planned, now + step)).toEqual(before);
          return;
        }
        expect(before.changesAtMs).toBeGreaterThan(now);
        const justBefore = Math.min(now + step, before.changesAtMs - 1);
        expect(phaseAt(planned, justBefore)).toEqual(before);
        expect(phaseAt(planned, before.changesAtMs)).not.toEqual(before);
      }),
    );
  });
});

describe('offPlanMs', () => {
  const table: [string, ShowTimes, number, number | null][] = [
    ['two days early', planned, START - 2 * 86400e3, -2 * 86400e3],
    ['a ms more than a quarter of an hour early', planned, START - OFF_PLAN_MS - 1, -OFF_PLAN_MS - 1],
    ['a quarter of an hour early', planned, START - OFF_PLAN_MS, null],
    ['on the minute', planned, START, null],
    ['a quarter of an hour late', planned, START + OFF_PLAN_MS, null],
    ['later than that', planned, START + OFF_PLAN_MS + 1, OFF_PLAN_MS + 1],
    ['without a planned start', { ...planned, startsAtMs: null }, START, null],
    ['begun, early as it was', { ...planned, startedAtMs: START - 86400e3 }, START - 86400e3, null],
  ];
  for (const [name, times, now, off] of table)
    it(`${name}: ${off}`, () => {
      expect(offPlanMs(times, now)).toBe(off);
    });
});

describe('canBePutBack', () => {
  const over: ShowTimes = { ...planned, startedAtMs: START, endedAtMs: START + 5 };
  const table: [string, ShowTimes, number, boolean][] = [
    ['planned', planned, START, false],
    ['live', { ...over, endedAtMs: null }, START + 1, false],
    ['just over', over, START + 5, true],
    ['over for a day', over, START + 5 + PUT_BACK_WITHIN_MS, true],
    ['over for longer', over, START + 6 + PUT_BACK_WITHIN_MS, false],
  ];
  for (const [name, times, now, can] of table)
    it(`${name}: ${can}`, () => {
      expect(canBePutBack(times, now)).toBe(can);
    });
});
