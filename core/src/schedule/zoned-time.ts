import { Temporal } from 'temporal-polyfill';

/**
 * Wall time in a zone, as people plan it: "Thursday at 19:00 in Lisbon". The instant follows from it and is
 * never the other way round, so that a show keeps its wall time when a country moves its clocks.
 */
export interface ZonedStart {
  /** `YYYY-MM-DDTHH:MM`, wall time in `zone`. */
  readonly local: string;
  /** An IANA zone name, such as `Europe/Lisbon`. */
  readonly zone: string;
  /** Which of the two instants is meant when the wall time happens twice. Elsewhere it has no effect. */
  readonly fold: Fold;
}

/** The first or the second time a wall time happens on the day that clocks go back. */
export type Fold = 'earlier' | 'later';

export type StartProblem =
  /** Not of the form `YYYY-MM-DDTHH:MM`. */
  | { readonly code: 'bad_form' }
  /** A date or time that no calendar has, such as 31 February or 25:00. */
  | { readonly code: 'no_such_day' }
  | { readonly code: 'no_such_time' }
  /** A year that no show is planned for: most likely a slip of the finger. */
  | { readonly code: 'year_out_of_range' }
  | { readonly code: 'unknown_zone' }
  /** Skipped when clocks go forward. `before` and `after` are the nearest wall times that exist. */
  | { readonly code: 'skipped'; readonly before: string; readonly after: string };

export type StartResult =
  | { readonly ok: true; readonly atMs: number; readonly twice: boolean }
  | { readonly ok: false; readonly problem: StartProblem };

/** Shows are planned for these years, both included. */
export const FIRST_YEAR = 2000;
export const LAST_YEAR = 2199;

const FORM = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)$/;

/** The instant of a planned start, or what is wrong with it. */
export function resolveStart(start: ZonedStart): StartResult {
  const problem = (p: StartProblem): StartResult => ({ ok: false, problem: p });
  const parts = FORM.exec(start.local)?.slice(1).map(Number);
  if (!parts) return problem({ code: 'bad_form' });
  const [year, month, day, hour, minute] = parts as [number, number, number, number, number];
  if (year < FIRST_YEAR || year > LAST_YEAR) return problem({ code: 'year_out_of_range' });
  if (hour > 23 || minute > 59) return problem({ code: 'no_such_time' });
  if (!isDay(year, month, day)) return problem({ code: 'no_such_day' });
  if (!isZone(start.zone)) return problem({ code: 'unknown_zone' });

  const wall = new Temporal.PlainDateTime(year, month, day, hour, minute);
  const earlier = wall.toZonedDateTime(start.zone, { disambiguation: 'earlier' });
  const later = wall.toZonedDateTime(start.zone, { disambiguation: 'later' });
  if (!earlier.toPlainDateTime().equals(wall)) {
    const gap = earlier.getTimeZoneTransition('next');
    const after = gap ?? later;
    return problem({
      code: 'skipped',
      before: formatLocal(after.subtract({ minutes: 1 })),
      after: formatLocal(after),
    });
  }
  const chosen = start.fold === 'later' ? later : earlier;
  return { ok: true, atMs: chosen.epochMilliseconds, twice: !earlier.equals(later) };
}

/** Whether this JavaScript engine knows the zone. Fixed offsets such as `+02:00` are not zones: they never move. */
export function isZone(zone: string): boolean {
  if (/^[+-]/.test(zone) || zone === '') return false;
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

/** What can be planned lies between these, both included: the years that four digits can say, from 1970 on. */
export const FIRST_INSTANT_MS = 0;
export const LAST_INSTANT_MS = Date.UTC(9999, 11, 31, 23, 59, 59, 999);

/**
 * An instant written as in RFC 3339, `2026-12-01T19:00Z` or with an offset, ms. Null: it is none, its day does not exist
 * (31 February is not taken for 3 March), or it cannot be planned.
 */
export function readInstant(text: string): number | null {
  if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,3})?)?(Z|[+-]\d\d:\d\d)$/.test(text)) return null;
  try {
    const atMs = Temporal.Instant.from(text).epochMilliseconds;
    return atMs >= FIRST_INSTANT_MS && atMs <= LAST_INSTANT_MS ? atMs : null;
  } catch {
    return null;
  }
}

/** The wall time, `YYYY-MM-DDTHH:MM`, that a clock on the wall of `zone` shows at an instant. */
export function wallTimeAt(atMs: number, zone: string): string {
  return formatLocal(Temporal.Instant.fromEpochMilliseconds(atMs).toZonedDateTimeISO(zone));
}

/** The zone's distance from UTC at an instant, in minutes, positive to the east. */
export function offsetMinutesAt(atMs: number, zone: string): number {
  const zoned = Temporal.Instant.fromEpochMilliseconds(atMs).toZonedDateTimeISO(zone);
  return zoned.offsetNanoseconds / 60e9;
}

/** The Monday of the week that an instant falls in for a zone, as `YYYY-MM-DD` (ISO 8601 weeks). */
export function weekOf(atMs: number, zone: string): string {
  const date = Temporal.Instant.fromEpochMilliseconds(atMs).toZonedDateTimeISO(zone).toPlainDate();
  return date.subtract({ days: date.dayOfWeek - 1 }).toString();
}

/** `date`, `YYYY-MM-DD`, moved by whole days. */
export function addDays(date: string, days: number): string {
  return Temporal.PlainDate.from(date).add({ days }).toString();
}

function isDay(year: number, month: number, day: number): boolean {
  if (month < 1 || month > 12 || day < 1) return false;
  return day <= Temporal.PlainYearMonth.from({ year, month }).daysInMonth;
}

function formatLocal(zoned: Temporal.ZonedDateTime): string {
  return zoned.toPlainDateTime().toString({ smallestUnit: 'minute' });
}
