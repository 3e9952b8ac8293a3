import { silentSince, SILENCE_PEAK } from './silence';

describe('the silence of a programme', () => {
  /** Windows of half a second. */
  const after = (peaks: readonly number[]) =>
    peaks.reduce<number | null>((since, peak, i) => silentSince(since, peak, i * 500), null);

  const CASES: [string, number[], number | null][] = [
    ['is none while somebody speaks', [0.2, 0.4, 0.1], null],
    ['is none in a room where nobody speaks: an open microphone is never quite silent', [0.01, 0.02], null],
    ['begins with the first window in which nothing is heard', [0.2, 0, 0, 0], 500],
    ['goes on from its beginning', [0, 0.001, 0, SILENCE_PEAK / 2], 0],
    ['ends with the first that is heard', [0, 0, 0, 0.3], null],
    ['begins anew after that', [0, 0, 0.3, 0, 0], 1500],
  ];
  for (const [what, peaks, since] of CASES) {
    it(what, () => expect(after(peaks)).toBe(since));
  }

  it('is not broken by less than anybody hears', () =>
    expect(after([0, SILENCE_PEAK * 0.99, SILENCE_PEAK * 0.5])).toBe(0));
});
