/** Where viewers are so far behind that is known, and when they wrote. */
export interface MeasuredPlace {
  readonly delayMs: number;
  readonly timesMs: readonly number[];
}

/** Further behind than this nobody is, and nobody takes longer to write about what they saw. */
const FARTHEST_MS = 90_000;
/** What is written about a moment comes within this long, mostly. */
const BURST_MS = 8000;
const STEP_MS = 500;
const LEAST_MARKS = 3;
/** A burst has at least so many, and stands out from what is written anyway by so many times what chance makes of it. */
const LEAST_IN_BURST = 8;
const STANDS_OUT = 6;
const MOST_DELAY_MS = 60_000;

/**
 * How far behind the programme viewers of a place are, learned from how they wrote after moments that were marked: those
 * who see them later write later. How long writing takes is seen at places whose delay is measured, so that without one of
 * those nothing can be learned.
 *
 * @param marksMs when the marked moments went out; all times by one clock
 * @param timesMs when viewers of the place wrote
 * @returns ms; null when there is not enough to go by
 */
export function learnDelay(
  marksMs: readonly number[],
  measured: readonly MeasuredPlace[],
  timesMs: readonly number[],
): number | null {
  if (marksMs.length < LEAST_MARKS) return null;
  const here = burstAfter(marksMs, timesMs);
  if (here === null) return null;
  const writingMs = measured
    .flatMap(({ delayMs, timesMs: times }) => {
      const burst = burstAfter(marksMs, times);
      return burst === null ? [] : burst - delayMs;
    })
    .sort((a, b) => a - b);
  if (writingMs.length === 0) return null;
  const delayMs = here - writingMs[writingMs.length >> 1]!;
  return delayMs > MOST_DELAY_MS ? null : Math.max(0, Math.round(delayMs));
}

/** How long after a marked moment most is written about it: the middle of the densest stretch, ms; null: nothing stands out. */
function burstAfter(marksMs: readonly number[], timesMs: readonly number[]): number | null {
  const lags = lagsAfter(marksMs, timesMs);
  let best: readonly number[] = [];
  let [first, end] = [0, 0];
  for (let from = 0; from + BURST_MS <= FARTHEST_MS; from += STEP_MS) {
    while (first < lags.length && lags[first]! < from) first += 1;
    while (end < lags.length && lags[end]! < from + BURST_MS) end += 1;
    if (end - first > best.length) best = lags.slice(first, end);
  }
  // What chance would bring: the rest, spread evenly.
  const expected = ((lags.length - best.length) * BURST_MS) / (FARTHEST_MS - BURST_MS);
  const standsOut = (best.length - expected) / Math.sqrt(Math.max(1, expected));
  if (best.length < LEAST_IN_BURST || standsOut < STANDS_OUT) return null;
  return best.reduce((sum, lag) => sum + lag, 0) / best.length;
}

/** How long after each moment each was written, as far as it can be about it; in rising order. */
function lagsAfter(marksMs: readonly number[], timesMs: readonly number[]): number[] {
  const times = timesMs.toSorted((a, b) => a - b);
  const lags: number[] = [];
  let from = 0;
  for (const mark of marksMs.toSorted((a, b) => a - b)) {
    while (from < times.length && times[from]! < mark) from += 1;
    for (let at = from; at < times.length && times[at]! - mark <= FARTHEST_MS; at++)
      lags.push(times[at]! - mark);
  }
  return lags.sort((a, b) => a - b);
}
