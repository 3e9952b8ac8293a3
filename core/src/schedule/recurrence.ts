import * as library from 'rrule';
import { resolveStart, type ZonedStart } from './zoned-time';

/** When a series is on: a rule of RFC 5545 (3.8.5.3) that goes by the wall clock of its first start. */
export interface Recurrence {
  readonly rule: string;
  readonly start: ZonedStart;
}

export interface Occurrence {
  readonly start: ZonedStart;
  /** ms; null: the clock skips that time on that day. */
  readonly atMs: number | null;
}

// In Node.js it is a CommonJS module, in a bundle an ES one.
const loaded: typeof library & { readonly default?: typeof library } = library;
const { RRule } = loaded.default ?? loaded;

/** Nobody plans further, and a rule can go on for ever. */
const MOST_OCCURRENCES = 200;
const DAY_MS = 24 * 3_600_000;
const LOOKED_AHEAD_MS = 5 * 366 * DAY_MS;
/** Shows are not on several times a day. */
const FREQUENCIES = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'];

export type RecurrenceProblem = 'not_a_rule' | 'too_often' | 'start_inside' | 'bad_start';

/** What is wrong with a recurrence; null: nothing. */
export function recurrenceProblem({ rule, start }: Recurrence): RecurrenceProblem | null {
  if (!resolveStart(start).ok) return 'bad_start';
  // The start is given apart, with its zone: a second one could contradict it.
  if (/DTSTART|TZID|[\r\n]/i.test(rule)) return 'start_inside';
  const frequency = /(?:^|;|RRULE:)FREQ=([A-Z]+)/i.exec(rule)?.[1]?.toUpperCase();
  if (frequency === undefined) return 'not_a_rule';
  if (!FREQUENCIES.includes(frequency) || /BY(HOUR|MINUTE|SECOND)=/i.test(rule)) return 'too_often';
  try {
    const from = floating(start);
    datesOf({ rule, start }, from.getTime() + LOOKED_AHEAD_MS).after(from, true);
    return null;
  } catch {
    return 'not_a_rule';
  }
}

/**
 * The dates of a series from one instant to another, both included, in order of time; at most 200. Each keeps its
 * wall time over changes of the clock.
 */
export function occurrences({ rule, start }: Recurrence, fromMs: number, toMs: number): Occurrence[] {
  const dates = datesOf({ rule, start }, toMs + DAY_MS);
  const found: Occurrence[] = [];
  // A zone is at most a day from UTC.
  let from = new Date(fromMs - DAY_MS);
  while (found.length < MOST_OCCURRENCES) {
    const next = dates.after(from, true);
    if (!next || next.getTime() > toMs + DAY_MS) break;
    from = new Date(next.getTime() + 1000);
    const local = next.toISOString().slice(0, 16);
    const at = { ...start, local, fold: 'earlier' as const };
    const resolved = resolveStart(at);
    const atMs = resolved.ok ? resolved.atMs : null;
    if ((atMs ?? next.getTime()) < fromMs || (atMs ?? next.getTime()) > toMs) continue;
    found.push({ start: at, atMs });
  }
  return found;
}

/** Up to a bound: a rule that never comes true would be looked for until the year 9999. */
function datesOf({ rule, start }: Recurrence, untilMs: number) {
  const options = RRule.parseString(rule.replace(/^RRULE:/i, ''));
  const bound = new Date(untilMs);
  const until = options.until && options.until < bound ? options.until : bound;
  return new RRule({ ...options, dtstart: floating(start), until });
}

/** The library reckons with the wall clock as if it were UTC, so that no zone gets in between. */
const floating = ({ local }: ZonedStart): Date => new Date(`${local.slice(0, 16)}:00Z`);

const WEEKDAYS = ['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'];

/** The rules that most series go by, for one whose first start is on this day. */
export function commonRules(
  local: string,
): Record<'weekly' | 'fortnightly' | 'monthly' | 'monthly_last', string> {
  const date = new Date(`${local.slice(0, 10)}T00:00:00Z`);
  const weekday = WEEKDAYS[date.getUTCDay()] ?? 'MO';
  const nth = Math.ceil(date.getUTCDate() / 7);
  return {
    weekly: `FREQ=WEEKLY;BYDAY=${weekday}`,
    fortnightly: `FREQ=WEEKLY;INTERVAL=2;BYDAY=${weekday}`,
    // A fifth one is not in every month.
    monthly: `FREQ=MONTHLY;BYDAY=${Math.min(nth, 4)}${weekday}`,
    monthly_last: `FREQ=MONTHLY;BYDAY=-1${weekday}`,
  };
}
