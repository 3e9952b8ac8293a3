import type { Clash } from '@juncta/contract/listings';
import type { Show } from '@juncta/contract/shows';
import { overlap } from '@juncta/core/shows';
import type { Queryable } from '../database/connect';
import { listShows } from '../shows/store';
import { listingsOf } from './store';

/** Other shows that go to the destinations of this one at the same time: there one key would serve two. */
export async function clashesOf(db: Queryable, show: Show): Promise<Clash[]> {
  const planned = (one: Show) => ({ startsAtMs: one.startsAtMs, plannedMinutes: one.text.plannedMinutes });
  const beside = (await listShows(db)).filter(
    (one) =>
      one.id !== show.id &&
      one.endedAtMs === null &&
      one.archivedAtMs === null &&
      overlap(planned(show), planned(one)),
  );
  const titles = new Map<string, string[]>();
  for (const one of beside)
    for (const { destinationId } of await listingsOf(db, one.id))
      titles.set(destinationId, [...(titles.get(destinationId) ?? []), one.text.title]);
  const ours = new Set((await listingsOf(db, show.id)).map(({ destinationId }) => destinationId));
  return [...titles]
    .filter(([destinationId]) => ours.has(destinationId))
    .map(([destinationId, of]) => ({ destinationId, titles: of }));
}
