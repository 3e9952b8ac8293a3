import fc from 'fast-check';
import { FASTEST_RATE, machineDelayUntil, REAL_SETTING, setTo, timeAt, withRate } from './clock';

const NOON = Date.UTC(2026, 10, 23, 12);

describe('clock', () => {
  it('is the machine’s own until somebody sets it', () => {
    expect(timeAt(REAL_SETTING, NOON)).toBe(NOON);
  });

  it('runs on at its rate after being set', () => {
    const set = setTo(withRate(REAL_SETTING, NOON, 60), NOON, 1_000_000);
    expect(timeAt(set, NOON + 1000)).toBe(1_060_000);
  });

  it('does not jump when its speed changes', () => {
    fc.assert(
      fc.property(
        fc.nat(1e9),
        fc.double({ min: 0, max: FASTEST_RATE, noNaN: true }),
        fc.double({ min: 0, max: FASTEST_RATE, noNaN: true }),
        (elapsed, first, second) => {
          const at = NOON + elapsed;
          const running = withRate(REAL_SETTING, NOON, first);
          expect(timeAt(withRate(running, at, second), at)).toBe(timeAt(running, at));
        },
      ),
    );
  });

  it('has reached the due time after the delay it names, and not long before', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: FASTEST_RATE, noNaN: true }),
        fc.integer({ min: -1e6, max: 1e9 }),
        (rate, ahead) => {
          const setting = withRate(REAL_SETTING, NOON, rate);
          const due = NOON + ahead;
          const delay = machineDelayUntil(setting, NOON, due)!;
          expect(timeAt(setting, NOON + delay)).toBeGreaterThanOrEqual(due);
          if (delay > 0) expect(timeAt(setting, NOON + delay - 1)).toBeLessThanOrEqual(due);
        },
      ),
    );
  });

  it('never comes due while it stands still', () => {
    expect(machineDelayUntil(withRate(REAL_SETTING, NOON, 0), NOON, NOON + 1)).toBeNull();
  });

  for (const rate of [-1, FASTEST_RATE + 1, NaN, Infinity]) {
    it(`refuses the rate ${rate}`, () => {
      expect(() => withRate(REAL_SETTING, NOON, rate)).toThrowError(RangeError);
    });
  }
});
