import { learnDelay } from './learn-delay';

/** The same numbers at every run (a linear congruential generator, constants of Numerical Recipes). */
function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

const SHOW_MS = 20 * 60_000;

/** An evening at a place: so many write about each marked moment some seconds after they saw it, others about anything. */
function evening(
  next: () => number,
  marks: readonly number[],
  delayMs: number,
  about: number,
  talkers: number,
): number[] {
  const writing = () => 2000 + 2500 * (next() + next());
  return [
    ...marks.flatMap((mark) => Array.from({ length: about }, () => mark + delayMs + writing())),
    ...Array.from({ length: talkers }, () => next() * SHOW_MS),
  ];
}

describe('a delay that is learned', () => {
  const marks = [60_000, 210_000, 400_000, 640_000, 900_000];

  it('is near what it is, with talk beside, whatever the delay', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const next = random(seed);
      const delayMs = Math.round(next() * 45_000);
      const measured = { delayMs: 5000, timesMs: evening(next, marks, 5000, 5, 60) };
      const learned = learnDelay(marks, [measured], evening(next, marks, delayMs, 5, 60));
      expect(learned).withContext(`seed ${seed}`).not.toBeNull();
      expect(Math.abs(learned! - delayMs))
        .withContext(`seed ${seed}: ${delayMs}`)
        .toBeLessThan(2500);
    }
  });

  it('is none where nobody writes about what was marked', () => {
    for (let seed = 1; seed <= 40; seed++) {
      const next = random(seed);
      const measured = { delayMs: 5000, timesMs: evening(next, marks, 5000, 5, 60) };
      expect(learnDelay(marks, [measured], evening(next, marks, 0, 0, 90)))
        .withContext(`seed ${seed}`)
        .toBeNull();
    }
  });

  it('needs moments enough, and a place whose delay is measured', () => {
    const next = random(7);
    const here = evening(next, marks, 17_000, 6, 20);
    const measured = { delayMs: 5000, timesMs: evening(next, marks, 5000, 6, 20) };
    expect(learnDelay(marks, [measured], here)).not.toBeNull();
    expect(learnDelay(marks.slice(0, 2), [measured], here)).toBeNull();
    expect(learnDelay(marks, [], here)).toBeNull();
    expect(learnDelay(marks, [{ delayMs: 5000, timesMs: [] }], here)).toBeNull();
    expect(learnDelay(marks, [measured], [])).toBeNull();
  });
});
