import fc from 'fast-check';
import { phaseAt, PREPARE_FROM_MS, READY_FROM_MS, type ShowTimes } from './phase';

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
