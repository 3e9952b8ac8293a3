const LATELY = 5;

/** Adds what was measured just now to what was measured lately; how far behind viewers are is the middle of it. */
export function steadyDelay(
  lately: readonly number[],
  measuredMs: number,
): { readonly lately: readonly number[]; readonly delayMs: number } {
  const kept = [...lately, measuredMs].slice(-LATELY);
  const sorted = kept.toSorted((a, b) => a - b);
  return { lately: kept, delayMs: Math.round(sorted[sorted.length >> 1]!) };
}

/**
 * The moment of the show that the writer of a message was watching: places show the programme later than it goes out,
 * each by its own delay.
 *
 * @param showTimeNowMs the show's time at `nowMs`; null while no show runs
 * @param delayMs how far behind the programme the place's viewers are, 0 or more
 * @returns ms from the start of the show; null when nothing of it could be seen there yet
 */
export function showTimeOf(
  showTimeNowMs: number | null,
  nowMs: number,
  writtenAtMs: number,
  delayMs: number,
): number | null {
  if (showTimeNowMs === null) return null;
  // A place's clock may be ahead of ours: nobody watches what has not gone out.
  const seen = Math.round(showTimeNowMs - Math.max(0, nowMs - writtenAtMs) - delayMs);
  return seen < 0 ? null : seen;
}
