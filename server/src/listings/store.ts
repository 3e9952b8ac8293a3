import type { Listing, ListingFigures } from '@juncta/contract/listings';
import { and, asc, count, eq, isNull, lt, or, sql, type SQL } from 'drizzle-orm';
import { chatMessage } from '../chat/schema';
import type { Queryable } from '../database/connect';
import { viewerDelay, type Kind } from '../destinations/connectors';
import { destination, showDestination } from '../destinations/schema';
import type { DestinationRow } from '../destinations/store';
import { feed } from '../feeds/schema';

export type ListingRow = typeof showDestination.$inferSelect;
type Changes = Partial<
  Omit<ListingRow, 'showId' | 'destinationId' | 'position' | 'listingState'> & {
    listingState: ListingRow['listingState'] | SQL;
  }
>;

/** Booked, unless its feed was started while the place was being asked: then it stays what that made it. */
export const BOOKED_UNLESS_OPEN = sql`case when ${showDestination.listingState} in ('open', 'ending') then ${showDestination.listingState} else 'booked' end`;

/** @param viewers who watches there now; null: nobody knows */
export function describeListing(row: ListingRow, kind: Kind, viewers: number | null): Listing {
  const {
    destinationId,
    title,
    description,
    slot,
    settings,
    listingState: state,
    pageUrl,
    embedUrl,
    differs,
    problem,
    picture,
    crop,
  } = row;
  const text = { destinationId, title, description, slot, settings, picture, crop };
  const delay = viewerDelay(kind, row);
  return {
    ...text,
    state,
    bookedSlotMs: row.bookedSlot,
    bookingDueMs: row.bookingDue,
    differs,
    problem,
    pageUrl,
    embedUrl,
    delayS: Math.round(delay.ms / 1000) || null,
    delayFrom: delay.from,
    viewers,
  };
}

const ofShow = (showId: string, destinationId: string) =>
  and(eq(showDestination.showId, showId), eq(showDestination.destinationId, destinationId));

export interface ListingAt {
  readonly listing: ListingRow;
  readonly destination: DestinationRow;
}

export async function findListing(
  db: Queryable,
  showId: string,
  destinationId: string,
): Promise<ListingAt | undefined> {
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

/** All of a show's, each with the destination it is at, in the order of its board. */
export async function listingsAt(db: Queryable, showId: string): Promise<ListingAt[]> {
  return db
    .select({ listing: showDestination, destination })
    .from(showDestination)
    .innerJoin(destination, eq(destination.id, showDestination.destinationId))
    .where(and(eq(showDestination.showId, showId), isNull(destination.removedAt)))
    .orderBy(asc(showDestination.position));
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

/** Keeps how many watch, if it is the most so far. */
export async function countViewers(
  db: Queryable,
  showId: string,
  destinationId: string,
  viewers: number,
): Promise<void> {
  const { mostViewers } = showDestination;
  await db
    .update(showDestination)
    .set({ mostViewers: viewers })
    .where(and(ofShow(showId, destinationId), or(isNull(mostViewers), lt(mostViewers, viewers))));
}

/** What became of a show at each of its destinations. */
export async function figuresOf(db: Queryable, showId: string): Promise<ListingFigures[]> {
  const written = await db
    .select({ destinationId: chatMessage.destinationId, messages: count() })
    .from(chatMessage)
    .where(and(eq(chatMessage.showId, showId), eq(chatMessage.owner, false), eq(chatMessage.practice, false)))
    .groupBy(chatMessage.destinationId);
  const sent = await db.select().from(feed).where(eq(feed.showId, showId));
  return (await listingsOf(db, showId)).map(({ destinationId, mostViewers }) => ({
    destinationId,
    onAirMs: sent.find((one) => one.destinationId === destinationId)?.report?.onAirMs ?? null,
    mostViewers,
    messages: written.find((one) => one.destinationId === destinationId)?.messages ?? 0,
  }));
}

/** The events at a destination that listings of ours have. */
export async function eventsTaken(db: Queryable, destinationId: string): Promise<string[]> {
  const rows = await db
    .select({ eventRef: showDestination.eventRef })
    .from(showDestination)
    .where(eq(showDestination.destinationId, destinationId));
  return rows.flatMap(({ eventRef }) => eventRef ?? []);
}
