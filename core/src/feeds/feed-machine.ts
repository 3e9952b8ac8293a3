import { RTMP_REFUSALS } from '../media/rtmp/publisher';
import type { RetryPolicy } from '../retry';

/**
 * One feed: the relay's one stream to one destination. Pure: `nextFeed(feed, event)` gives the new feed and
 * what is to be done. Whoever drives it dials, publishes, waits and looks, and reports back as events.
 *
 * | state      | the programme is …                                                              |
 * |------------|---------------------------------------------------------------------------------|
 * | off        | not sent there                                                                  |
 * | dialling   | about to be: the connection is being made                                       |
 * | held       | received there and not public: somebody has to publish it                       |
 * | sending    | public as far as we know; nobody has looked yet, or nobody can                  |
 * | on_air     | public, seen from outside                                                       |
 * | recovering | not arriving: the connection was lost and is being made again                   |
 * | ended      | over, because we ended it or the place did                                      |
 * | failed     | not sent, and trying again as things stand will not help                        |
 */
export const FEED_STATES = [
  'off',
  'dialling',
  'held',
  'sending',
  'on_air',
  'recovering',
  'ended',
  'failed',
] as const;
export type FeedState = (typeof FEED_STATES)[number];

export const FEED_REASONS = [
  'lost_connection',
  'no_answer',
  ...RTMP_REFUSALS,
  'gave_up',
  'ended_by_us',
  'ended_by_place',
] as const;
/** Why a feed is where it is, for the sentence on the board. */
export type FeedReason = (typeof FEED_REASONS)[number];

/** Refusals that a person has to mend: the same try again would be refused again. */
const FINAL_REFUSALS: ReadonlySet<FeedReason> = new Set(['refused_key', 'refused_format']);

export interface Feed {
  readonly state: FeedState;
  /** Tries since the connection last stood, from 1; 0 when none is under way. */
  readonly attempt: number;
  /** Whether the place had made it public before the connection was lost. */
  readonly wasPublic: boolean;
  /** Null while there is nothing to explain. */
  readonly reason: FeedReason | null;
}

export type FeedEvent =
  /** A person starts the feed. */
  | { readonly type: 'start' }
  /** The place takes our stream. `arrival` is what its house rules say happens with it now. */
  | { readonly type: 'accepted'; readonly arrival: 'public' | 'held' }
  /** It was published: by us through the API, or by hand on the place's own page. */
  | { readonly type: 'published' }
  /** Somebody looked from outside, and viewers see it, or do not. */
  | { readonly type: 'seen'; readonly public: boolean }
  | { readonly type: 'refused'; readonly reason: FeedReason }
  | { readonly type: 'lost'; readonly reason: 'lost_connection' | 'no_answer' }
  /** The wait before the next try is over. */
  | { readonly type: 'retry_due' }
  /** The place ended the event. */
  | { readonly type: 'ended_there' }
  /** A person ends the feed. */
  | { readonly type: 'stop' };

export type FeedEffect =
  | { readonly type: 'dial'; readonly attempt: number }
  | { readonly type: 'retry_in'; readonly delayMs: number }
  | { readonly type: 'look' }
  | { readonly type: 'hang_up'; readonly clean: boolean };

export interface FeedStep {
  readonly feed: Feed;
  readonly effects: readonly FeedEffect[];
}

export const FEED_OFF: Feed = { state: 'off', attempt: 0, wasPublic: false, reason: null };

/** States in which a connection exists or is being made, so that ending means something. */
export function isUnderWay(state: FeedState): boolean {
  return state !== 'off' && state !== 'ended' && state !== 'failed';
}

/**
 * The next feed. Events that mean nothing in the present state (a retry that comes due after the feed was
 * ended, say) leave it as it is, without effects: reports from outside may come late.
 */
export function nextFeed(feed: Feed, event: FeedEvent, policy: RetryPolicy): FeedStep {
  const stay: FeedStep = { feed, effects: [] };
  switch (event.type) {
    case 'start':
      if (isUnderWay(feed.state)) return stay;
      return {
        feed: { state: 'dialling', attempt: 1, wasPublic: false, reason: null },
        effects: [{ type: 'dial', attempt: 1 }],
      };
    case 'accepted':
      if (feed.state !== 'dialling' && feed.state !== 'recovering') return stay;
      return accepted(feed, event.arrival);
    case 'published':
      if (feed.state !== 'held') return stay;
      return { feed: { ...feed, state: 'sending', wasPublic: true }, effects: [{ type: 'look' }] };
    case 'seen':
      return seen(feed, event.public);
    case 'refused':
    case 'lost':
      return isUnderWay(feed.state) ? broken(feed, event.reason, policy) : stay;
    case 'retry_due':
      if ((feed.state !== 'dialling' && feed.state !== 'recovering') || feed.reason === null) return stay;
      return {
        feed: { ...feed, reason: null },
        effects: [{ type: 'dial', attempt: feed.attempt }],
      };
    case 'ended_there':
      if (!isUnderWay(feed.state)) return stay;
      return over(feed, 'ended_by_place', false);
    case 'stop':
      if (!isUnderWay(feed.state)) return stay;
      return over(feed, 'ended_by_us', true);
  }
}

function accepted(feed: Feed, arrival: 'public' | 'held'): FeedStep {
  const isPublic = arrival === 'public' || feed.wasPublic;
  return {
    feed: { state: isPublic ? 'sending' : 'held', attempt: 0, wasPublic: isPublic, reason: null },
    effects: [{ type: 'look' }],
  };
}

function seen(feed: Feed, isPublic: boolean): FeedStep {
  if (feed.state === 'on_air' && !isPublic) {
    return { feed: { ...feed, state: 'sending' }, effects: [{ type: 'look' }] };
  }
  if (isPublic && (feed.state === 'held' || feed.state === 'sending')) {
    return { feed: { ...feed, state: 'on_air', wasPublic: true }, effects: [] };
  }
  return { feed, effects: [] };
}

function broken(feed: Feed, reason: FeedReason, policy: RetryPolicy): FeedStep {
  if (FINAL_REFUSALS.has(reason)) {
    return { feed: { ...feed, state: 'failed', reason }, effects: [{ type: 'hang_up', clean: false }] };
  }
  // A second report of the same break (a socket's error and its close) must not count as a second try.
  if (feed.reason !== null) return { feed, effects: [] };
  const attempt = feed.attempt + 1;
  const delayMs = policy.delayMs(attempt);
  if (delayMs === null) {
    const gaveUp: Feed = { ...feed, state: 'failed', reason: 'gave_up' };
    return { feed: gaveUp, effects: [{ type: 'hang_up', clean: false }] };
  }
  const state = feed.state === 'dialling' ? 'dialling' : 'recovering';
  return { feed: { ...feed, state, attempt, reason }, effects: [{ type: 'retry_in', delayMs }] };
}

function over(feed: Feed, reason: FeedReason, clean: boolean): FeedStep {
  return {
    feed: { ...feed, state: 'ended', attempt: 0, reason },
    effects: [{ type: 'hang_up', clean }],
  };
}
