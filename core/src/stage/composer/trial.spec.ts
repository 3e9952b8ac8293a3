import { judgeTrials, TRIAL_SOURCES } from './trial';

const [MANY, FEW] = TRIAL_SOURCES;

describe('the trial of a computer', () => {
  const CASES = [
    ['holds', [[MANY, 30]], 30],
    ['holds', [[MANY, 28.6]], 30],
    ['holds', [[MANY, 57.5]], 60],
    [
      'holds_few',
      [
        [MANY, 24],
        [FEW, 29.9],
      ],
      30,
    ],
    [
      'short',
      [
        [MANY, 30],
        [FEW, 41],
      ],
      60,
    ],
    ['short', [[MANY, 28.4]], 30],
  ] as const;
  for (const [verdict, made, rateHz] of CASES) {
    it(`${verdict} with ${made.map(([n, perS]) => `${perS} frames a second of ${n}`).join(', then ')} at ${rateHz}`, () => {
      const trials = made.map(([sources, framesPerS]) => ({ sources, framesPerS }));
      expect(judgeTrials(trials, rateHz)).toEqual({ verdict, last: trials.at(-1)! });
    });
  }
  it('is nothing without one', () => expect(() => judgeTrials([], 30)).toThrowError(RangeError));
});
