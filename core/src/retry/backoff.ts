/** How long to wait before trying again, and when to stop trying. */
export interface RetryPolicy {
  /** The wait in ms before try number `attempt` (from 1); null when there should be no further try. */
  delayMs(attempt: number): number | null;
}

export interface BackoffOptions {
  /** The wait before the second try, before jitter. */
  readonly firstMs: number;
  /** No wait is longer, before jitter. */
  readonly longestMs: number;
  /** Tries in all; the last one's failure is final. */
  readonly attempts: number;
  /** A number from 0 (included) to 1 (not): where in the spread a wait falls. */
  readonly random: () => number;
}

/** Waits spread over ± a quarter, so that feeds cut at one moment do not all come back at one moment. */
const SPREAD = 0.25;

/** Doubling waits with jitter. The first retry comes quickly: most breaks are short. */
export function backoff(options: BackoffOptions): RetryPolicy {
  const { firstMs, longestMs, attempts, random } = options;
  if (!(firstMs > 0 && longestMs >= firstMs)) throw new RangeError('0 < firstMs <= longestMs must hold');
  if (!Number.isInteger(attempts) || attempts < 1) throw new RangeError('attempts must be 1 or more');
  return {
    delayMs(attempt) {
      if (attempt > attempts) return null;
      const plain = Math.min(longestMs, firstMs * 2 ** Math.max(0, attempt - 2));
      return Math.round(plain * (1 - SPREAD + 2 * SPREAD * random()));
    },
  };
}
