import type { FeedState } from './feed-machine';
import { feedDeadline, type FeedRules, type OutlookFeed } from './feed-outlook';

/**
 * What needs a person, and what each asks of them. `failed`: the relay has given up, start it again; `held`: it is
 * received and nobody sees it, publish it; `unseen`: it should be public and nobody could see it there; `lapses`: the
 * place is about to throw its event away, start it; `runs_out`: the place's longest show is nearly over; `slate`: the
 * show is on and nobody composes it; `silent`: somebody does, and nothing is heard. What mends itself is none: a feed that recovers, a desk that is gone for a moment.
 */
export const ALARM_KINDS = ['failed', 'slate', 'silent', 'lapses', 'held', 'unseen', 'runs_out'] as const;
export type AlarmKind = (typeof ALARM_KINDS)[number];

export interface Alarm {
  readonly kind: AlarmKind;
  /** Null: it concerns all. */
  readonly destinationId: string | null;
  /** When it is too late, ms; null: nobody knows. */
  readonly dueMs: number | null;
}

export interface AlarmedFeed extends OutlookFeed {
  readonly destinationId: string;
  readonly state: FeedState;
  readonly bookedSlotMs: number | null;
  readonly rules: FeedRules;
  /** Whether somebody looks at its place from outside. */
  readonly looked: boolean;
}

export interface AlarmedShow {
  /** It is on: at least one feed was started and it was not ended. */
  readonly on: boolean;
  /** Since when viewers see the slate and not because somebody covered the picture, ms; null: they do not. */
  readonly slateSinceMs: number | null;
  /** Since when somebody is on stage and nothing is heard, ms; null: something is, or nobody knows. */
  readonly silentSinceMs: number | null;
  readonly feeds: readonly AlarmedFeed[];
}

const SECOND_MS = 1000;
const MINUTE_MS = 60 * SECOND_MS;
/** Whoever starts a feed that is held looks at it first: so long nobody has to be told. */
const HELD_BORNE_MS = 45 * SECOND_MS;
/** Places take a while to show what they have. */
const UNSEEN_BORNE_MS = 60 * SECOND_MS;
/** Desks come back by themselves: a page that is loaded again, a line that was cut. */
const SLATE_BORNE_MS = 20 * SECOND_MS;
/** In a conversation nobody is silent so long, unless a microphone is off. */
const SILENCE_BORNE_MS = 15 * SECOND_MS;
const LAPSE_TOLD_MS = 10 * MINUTE_MS;
const LONGEST_TOLD_MS = 10 * MINUTE_MS;

/** What needs a person now, the most pressing first. */
export function alarmsOf(
  { on, slateSinceMs, silentSinceMs, feeds }: AlarmedShow,
  nowMs: number,
): readonly Alarm[] {
  const alarms = feeds.flatMap((feed) => alarmOf(feed, nowMs) ?? []);
  const lasts = (sinceMs: number | null, borneMs: number) =>
    on && sinceMs !== null && nowMs - sinceMs >= borneMs;
  if (lasts(slateSinceMs, SLATE_BORNE_MS)) alarms.push({ kind: 'slate', destinationId: null, dueMs: null });
  else if (lasts(silentSinceMs, SILENCE_BORNE_MS))
    alarms.push({ kind: 'silent', destinationId: null, dueMs: null });
  const rank = ({ kind }: Alarm) => ALARM_KINDS.indexOf(kind);
  return alarms.sort((a, b) => rank(a) - rank(b) || (a.dueMs ?? Infinity) - (b.dueMs ?? Infinity) || 0);
}

function alarmOf(feed: AlarmedFeed, nowMs: number): Alarm | null {
  const { destinationId, state, sinceMs, rules, bookedSlotMs } = feed;
  const deadline = feedDeadline(state === 'off' ? null : feed, bookedSlotMs, rules, nowMs);
  const forMs = nowMs - sinceMs;
  if (state === 'failed') return { kind: 'failed', destinationId, dueMs: deadline?.atMs ?? null };
  if (deadline?.kind === 'lapse') {
    const leftMs = deadline.atMs - nowMs;
    if (leftMs > 0 && leftMs <= LAPSE_TOLD_MS) return { kind: 'lapses', destinationId, dueMs: deadline.atMs };
  }
  if (state === 'held' && forMs >= HELD_BORNE_MS) return { kind: 'held', destinationId, dueMs: null };
  // A place that waits for its slot shows nothing before it.
  const early = rules.goingPublic === 'from_slot' && bookedSlotMs !== null && nowMs < bookedSlotMs;
  if (state === 'sending' && feed.looked && !early) {
    const fromMs = Math.max(sinceMs, rules.goingPublic === 'from_slot' ? (bookedSlotMs ?? 0) : 0);
    if (nowMs - fromMs >= UNSEEN_BORNE_MS) return { kind: 'unseen', destinationId, dueMs: null };
  }
  if (deadline?.kind === 'longest' && deadline.atMs - nowMs <= LONGEST_TOLD_MS)
    return { kind: 'runs_out', destinationId, dueMs: deadline.atMs };
  return null;
}
