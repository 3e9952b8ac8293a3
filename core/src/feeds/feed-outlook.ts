import { isUnderWay, type FeedState } from './feed-machine';

/** What of a place's house rules bears on a feed that runs. */
export interface FeedRules {
  readonly lateStart: { readonly kind: string; readonly afterMinutes?: number };
  readonly feedLoss: {
    readonly patienceS: number;
    readonly then: 'gap' | 'event_ends' | 'unknown';
    readonly cleanEndEnds: 'yes' | 'no' | 'option' | 'unknown';
  };
  /** Null: no limit that we know. */
  readonly longestMinutes: number | null;
  readonly goingPublic: 'on_arrival' | 'from_slot' | 'by_api' | 'by_hand' | 'unknown';
}

export interface OutlookFeed {
  readonly state: FeedState;
  readonly sinceMs: number;
  /** ms on air so far; null: never. */
  readonly onAirMs: number | null;
}

/**
 * What happens by itself, and when: the place throws its event away (`lapse`), gives up a feed it has lost (`gap`: it
 * shows nothing; `event_ends`: it ends), or has had enough (`longest`).
 */
export interface FeedDeadline {
  readonly kind: 'lapse' | 'gap' | 'event_ends' | 'longest';
  readonly atMs: number;
}

const MINUTE_MS = 60_000;
/** The end of the longest show is told so long before: earlier it concerns nobody. */
const LONGEST_TOLD_MS = 30 * MINUTE_MS;

/**
 * The next thing that a place does by itself with this feed; null: nothing that we know of.
 *
 * @param feed null: it was never started
 * @param bookedSlotMs the slot of its event; null: it has none
 */
export function feedDeadline(
  feed: OutlookFeed | null,
  bookedSlotMs: number | null,
  rules: FeedRules,
  nowMs: number,
): FeedDeadline | null {
  const state = feed?.state ?? 'off';
  if (feed && state === 'recovering') {
    const { patienceS, then } = rules.feedLoss;
    return then === 'unknown' ? null : { kind: then, atMs: feed.sinceMs + patienceS * 1000 };
  }
  if (feed?.onAirMs != null && isUnderWay(state)) {
    if (rules.longestMinutes === null) return null;
    const atMs = nowMs - feed.onAirMs + rules.longestMinutes * MINUTE_MS;
    return atMs - nowMs <= LONGEST_TOLD_MS ? { kind: 'longest', atMs } : null;
  }
  // Nothing arrives yet: what waits there may not wait for ever.
  const waits = state === 'off' || state === 'dialling';
  if (!waits || bookedSlotMs === null || rules.lateStart.afterMinutes === undefined) return null;
  return { kind: 'lapse', atMs: bookedSlotMs + rules.lateStart.afterMinutes * MINUTE_MS };
}

/** What ending a feed does at its place: `ends`: the event is over with it; `told`: we end the event by its API. */
export type EndEffect = 'ends' | 'told' | 'waits' | 'unknown';

/**
 * @param endsByApi whether we can end its event ourselves
 * @param endsWithFeed the event was set so, where that can be chosen
 */
export function endEffect(rules: FeedRules, endsByApi: boolean, endsWithFeed: boolean): EndEffect {
  const { cleanEndEnds } = rules.feedLoss;
  if (cleanEndEnds === 'yes' || (cleanEndEnds === 'option' && endsWithFeed)) return 'ends';
  if (endsByApi) return 'told';
  return cleanEndEnds === 'unknown' ? 'unknown' : 'waits';
}
