import fc from 'fast-check';
import { backoff } from './backoff';

describe('backoff', () => {
  it('doubles up to its longest wait, then stops', () => {
    const policy = backoff({ firstMs: 500, longestMs: 8000, attempts: 5, random: () => 0.5 });
    expect([2, 3, 4, 5, 6].map((attempt) => policy.delayMs(attempt))).toEqual([500, 1000, 2000, 4000, null]);
  });

  it('spreads by no more than a quarter to either side', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 0.999, noNaN: true }),
        fc.integer({ min: 2, max: 9 }),
        (r, attempt) => {
          const wait = backoff({ firstMs: 1000, longestMs: 8000, attempts: 9, random: () => r }).delayMs(
            attempt,
          )!;
          const plain = Math.min(8000, 1000 * 2 ** (attempt - 2));
          expect(wait).toBeGreaterThanOrEqual(plain * 0.75 - 1);
          expect(wait).toBeLessThanOrEqual(plain * 1.25 + 1);
        },
      ),
    );
  });
});
