import fc from 'fast-check';
import { LineSilence } from './line-silence';

describe('silence on a line', () => {
  it('is as long as nothing was heard', () => {
    const silence = new LineSilence(0, 1500);
    expect([1000, 2000, 3000].map((atMs) => silence.look(atMs))).toEqual([1000, 2000, 3000]);
    silence.heard(3400);
    expect([4000, 5000].map((atMs) => silence.look(atMs))).toEqual([600, 1600]);
  });

  it('does not count time in which nobody looked', () => {
    const silence = new LineSilence(0, 1500);
    silence.look(1000);
    expect(silence.look(61_000)).toBe(2500);
    expect(silence.look(62_000)).toBe(3500);
  });

  it('is never longer than what went by, nor than what the looks allow', () => {
    const steps = fc.array(fc.tuple(fc.integer({ min: 0, max: 9000 }), fc.boolean()), { minLength: 1 });
    fc.assert(
      fc.property(steps, (all) => {
        const silence = new LineSilence(0, 1500);
        let [nowMs, heardMs, looks] = [0, 0, 0];
        for (const [stepMs, isHeard] of all) {
          nowMs += stepMs;
          if (isHeard) {
            silence.heard(nowMs);
            [heardMs, looks] = [nowMs, 0];
            continue;
          }
          looks += 1;
          const silentMs = silence.look(nowMs);
          expect(silentMs).toBeLessThanOrEqual(Math.min(nowMs - heardMs, looks * 1500));
        }
      }),
    );
  });
});
