import type { Listing } from '@juncta/contract/listings';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { destination, showDestination } from '../destinations/schema';
import type { DestinationRow } from '../destinations/store';

export type ListingRow = typeof showDestination.$inferSelect;
type Changes = Partial<Omit<ListingRow, 'showId' | 'destinationId' | 'position'>>;

/** @param viewers who watches there now; null: nobody knows */
export function describeListing(row: ListingRow, viewers: number | null): Listing {
  const { destinationId, title, listingState: state, pageUrl } = row;
  return { destinationId, title, state, pageUrl, viewers };
}

const ofShow = (showId: string, destinationId: string) =>
  and(eq(showDestination.showId, showId), eq(showDestination.destinationId, destinationId));

export async function findListing(
  db: Queryable,
  showId: string,
  destinationId: string,
): Promise<{ listing: ListingRow; destination: DestinationRow } | undefined> {
  const [row] = await db
    .select({ listing: showDestination, destination })
    .from(showDestination)
    .innerJoin(destination, eq(destination.id, showDestination.destinationId))
    .where(and(ofShow(showId, destinationId), isNull(destination.removedAt)));
  return row;
}

/** Those of a show, in the order of its board. */
export async function listingsOf(db: Queryable, showId: string): Promise<ListingRow[]> {
  const rows = await db
    .select({ listing: showDestination })
    .from(showDestination)
    .innerJoin(destination, eq(destination.id, showDestination.destinationId))
    .where(and(eq(showDestination.showId, showId), isNull(destination.removedAt)))
    .orderBy(asc(showDestination.position));
  return rows.map(({ listing }) => listing);
}

export async function changeListing(
  db: Queryable,
  showId: string,
  destinationId: string,
  values: Changes,
): Promise<ListingRow | undefined> {
  const [row] = await db.update(showDestination).set(values).where(ofShow(showId, destinationId)).returning();
  return row;
}

export async function listingsIn(db: Queryable, state: ListingRow['listingState']): Promise<ListingRow[]> {
  return db.select().from(showDestination).where(eq(showDestination.listingState, state));
}

/** Listings whose chat is to be followed, with the destination each is at. */
export async function openChats(
  db: Queryable,
): Promise<{ listing: ListingRow; destination: DestinationRow }[]> {
  return db
    .select({ listing: showDestination, destination })
    .from(showDestination)
    .innerJoin(destination, eq(destination.id, showDestination.destinationId))
    .where(and(eq(showDestination.chatOpen, true), isNull(destination.removedAt)));
}
