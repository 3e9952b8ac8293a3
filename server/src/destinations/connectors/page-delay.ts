import * as z from 'zod';
import { PlaceAway, PlaceRefused, type AskPlace } from '../ask-place';
import type { Target } from './connector';

/** What is further behind is no delay, but a page that stands still, or a clock that is wrong. */
const MOST_MS = 180_000;
const State = z.object({ showing: z.iso.datetime().nullable() });

/**
 * How far behind the programme a public page is, ms: some places say beside their page when what it shows just now came
 * in. What is on the way from here to there is not in it. Null: the page does not say, or shows nothing yet.
 */
export async function pageDelayMs(target: Target, page: string, ask: AskPlace): Promise<number | null> {
  try {
    const state = new URL('state', new URL(page, target.address));
    const read = State.safeParse(await ask(state.href));
    if (!read.success || read.data.showing === null) return null;
    const delayMs = ask.nowMs() - Date.parse(read.data.showing);
    // The place's clock may be a little ahead of ours.
    return delayMs < -MOST_MS || delayMs > MOST_MS ? null : Math.max(0, delayMs);
  } catch (error) {
    // It is a kindness of the page: that it was seen does not hang on it.
    if (error instanceof PlaceAway || error instanceof PlaceRefused) return null;
    throw error;
  }
}
