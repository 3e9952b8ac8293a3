/** What an address that leads from show to show needs of each. */
export interface SeriesShow {
  readonly startsAtMs: number | null;
  readonly plannedMinutes: number;
  readonly startedAtMs: number | null;
  readonly endedAtMs: number | null;
  readonly archivedAtMs: number | null;
}

/** Hosts are late at times: viewers who come then are not sent to next week's show. */
const LATE_MS = 30 * 60_000;

/**
 * Which of some shows it is now, for addresses that never change: the one that is on (of several, the one that began last), or the
 * one that comes next; null: none is planned.
 */
export function evergreenShow<S extends SeriesShow>(shows: readonly S[], nowMs: number): S | null {
  const open = shows.filter((show) => show.archivedAtMs === null && show.endedAtMs === null);
  const [on] = open
    .filter(({ startedAtMs }) => startedAtMs !== null)
    .sort((a, b) => b.startedAtMs! - a.startedAtMs!);
  if (on) return on;
  const [next] = open
    .filter((show) => show.startsAtMs !== null && show.startsAtMs + LATE_MS > nowMs)
    .sort((a, b) => a.startsAtMs! - b.startsAtMs!);
  return next ?? null;
}
