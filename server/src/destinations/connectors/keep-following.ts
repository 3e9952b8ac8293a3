import { backoff } from '@juncta/core/retry';
import { PlaceAway, PlaceRefused } from '../ask-place';
import type { ChatListener } from './connector';

/** A chat's line is made again after this long at first, and at the longest; for as long as it is wanted. */
const FIRST_MS = 500;
const LONGEST_MS = 15_000;

/**
 * Runs `once`, which follows a chat until its line breaks, again and again. Answers that waiting will not change end
 * it: the place refuses us. A place that asks to be left alone for a while (429) is.
 */
export async function keepFollowing(
  once: (connected: () => void) => Promise<void>,
  listener: ChatListener,
  stopped: AbortSignal,
): Promise<void> {
  const policy = backoff({
    firstMs: FIRST_MS,
    longestMs: LONGEST_MS,
    attempts: Number.MAX_SAFE_INTEGER,
    random: Math.random,
  });
  let attempt = 0;
  const connected = () => {
    attempt = 0;
    listener.opened();
  };
  while (!stopped.aborted) {
    let why = 'the line broke';
    let waitMs: number | null = null;
    try {
      await once(connected);
    } catch (error) {
      if (stopped.aborted) return;
      if (error instanceof PlaceRefused && error.status === 429) {
        why = error.message;
        waitMs = (error.retryAfterS ?? 60) * 1000;
      } else if (error instanceof PlaceRefused) {
        listener.refused(error.message);
        return;
      } else if (error instanceof PlaceAway) why = error.message;
      else throw error;
    }
    if (stopped.aborted) return;
    listener.lost(why);
    attempt += 1;
    await pause(waitMs ?? policy.delayMs(attempt + 1) ?? LONGEST_MS, stopped);
  }
}

/** Waits, or until it is no longer wanted. */
export function pause(ms: number, stopped: AbortSignal): Promise<void> {
  return new Promise((done) => {
    if (stopped.aborted) return done();
    const finish = () => {
      clearTimeout(timer);
      stopped.removeEventListener('abort', finish);
      done();
    };
    const timer = setTimeout(finish, ms);
    stopped.addEventListener('abort', finish);
  });
}
