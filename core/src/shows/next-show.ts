import { addDays, resolveStart, wallTimeAt, type ZonedStart } from '../schedule';

/** What was not carried over into the next show, and why somebody has to look at it. */
export type NotCarried =
  /** Everybody gets a new personal link. */
  | 'links'
  /** Slots at a time of their own: that has gone by. */
  | 'fixed_slots'
  /** The clock skips that time on that day. */
  | 'start_skipped'
  | 'no_start'
  /** Somebody who has left the team. */
  | 'people';

export interface NextStart {
  /** Null: it has to be set. */
  readonly start: ZonedStart | null;
  readonly notCarried: readonly NotCarried[];
}

const WEEK_DAYS = 7;

/**
 * The next start of a weekly show: the same wall time on the same day of the week, the first that is still to come. It
 * keeps its wall time over changes of the clock; one that is skipped that day is left to a person.
 */
export function nextStart(start: ZonedStart | null, nowMs: number): NextStart {
  if (!start) return { start: null, notCarried: ['no_start'] };
  const today = wallTimeAt(nowMs, start.zone).slice(0, 10);
  const [first, time] = start.local.split('T') as [string, string];
  let day = first;
  do day = addDays(day, WEEK_DAYS);
  while (day < today);
  const next = { ...start, local: `${day}T${time}`, fold: 'earlier' as const };
  const resolved = resolveStart(next);
  if (!resolved.ok) return { start: null, notCarried: ['start_skipped'] };
  // Today, but earlier than now.
  if (resolved.atMs <= nowMs) return nextStart(next, nowMs);
  return { start: next, notCarried: [] };
}
