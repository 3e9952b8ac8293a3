/** What the evergreen link of a series needs of a show. */
export interface SeriesShow {
  readonly startsAtMs: number | null;
  readonly plannedMinutes: number;
  readonly startedAtMs: number | null;
  readonly endedAtMs: number | null;
  readonly archivedAtMs: number | null;
}

/** Hosts are late at times: viewers who come then are not sent to next week's show. */
const LATE_MS = 30 * 60_000;

/** Where the evergreen link of a series leads: the show that is on, or the one that comes next; null: none is planned. */
export function evergreenShow<S extends SeriesShow>(shows: readonly S[], nowMs: number): S | null {
  const open = shows.filter((show) => show.archivedAtMs === null && show.endedAtMs === null);
  const on = open.find(({ startedAtMs }) => startedAtMs !== null);
  if (on) return on;
  const [next] = open
    .filter((show) => show.startsAtMs !== null && show.startsAtMs + LATE_MS > nowMs)
    .sort((a, b) => a.startsAtMs! - b.startsAtMs!);
  return next ?? null;
}
