import type { PlannedListings } from '@juncta/contract/readiness';
import type { Show } from '@juncta/contract/shows';
import { asc, isNull, eq, and } from 'drizzle-orm';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { destination, showDestination } from '../destinations/schema';
import { describe } from '../destinations/store';
import { lastSeq } from '../events/store';
import { listShows } from '../shows/store';
import { show } from '../shows/schema';
import { clashesOf, type Routed } from './clashes';
import { rulesOfRow } from '../destinations/row-rules';
import { describeListing, type ListingAt } from './store';

interface RoutedShow extends Routed {
  readonly listings: readonly ListingAt[];
}

/** Every show that is neither over nor put away, with its listings in the order of its board; however many, in a few queries. */
async function routedShows(db: Queryable): Promise<RoutedShow[]> {
  const rows = await db
    .select({ listing: showDestination, destination })
    .from(showDestination)
    .innerJoin(destination, eq(destination.id, showDestination.destinationId))
    .innerJoin(show, eq(show.id, showDestination.showId))
    .where(and(isNull(destination.removedAt), isNull(show.endedAt), isNull(show.archivedAt)))
    .orderBy(asc(showDestination.position));
  const isAhead = ({ endedAtMs, archivedAtMs }: Show) => endedAtMs === null && archivedAtMs === null;
  return (await listShows(db)).filter(isAhead).map((one) => {
    const listings = rows.filter(({ listing }) => listing.showId === one.id);
    return { show: one, listings, to: new Set(listings.map(({ destination: { id } }) => id)) };
  });
}

export async function clashesWith(db: Queryable, showId: string) {
  const all = await routedShows(db);
  const ours = all.find(({ show: { id } }) => id === showId);
  return ours ? clashesOf(ours, all) : [];
}

export async function plannedListings(app: App): Promise<PlannedListings> {
  // Before the rest is read: what changes meanwhile is told.
  const seq = await lastSeq(app.db, 'destinations');
  const all = await routedShows(app.db);
  const known = new Map(
    all.flatMap(({ listings }) => listings.map((at) => [at.destination.id, at.destination] as const)),
  );
  return {
    destinations: [...known.values()].map((row) => describe(row, rulesOfRow(app, row))),
    shows: all.map((one) => ({
      showId: one.show.id,
      listings: one.listings.map((at) => describeListing(at.listing, at.destination.kind, null)),
      clashes: clashesOf(one, all),
    })),
    seq,
  };
}
