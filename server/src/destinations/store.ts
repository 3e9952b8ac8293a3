import type { Destination, HouseRules } from '@juncta/contract/destinations';
import { and, asc, eq, inArray, isNull, notInArray, sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { connectorOf } from './connectors';
import { destination, listingOff, showDestination } from './schema';

export type DestinationRow = typeof destination.$inferSelect;
export type NewDestination = typeof destination.$inferInsert;

/** What the team sees of one. Its secret stays here. */
export function describe(row: DestinationRow, rules: HouseRules): Destination {
  const {
    id,
    name,
    code,
    pattern,
    kind,
    address,
    pageUrl,
    accountId,
    placement,
    lineTest,
    region,
    encoderLimit,
  } = row;
  const { look, end } = connectorOf(kind);
  const where = { accountId, placement: placement ?? null, region };
  return {
    id,
    name,
    code,
    pattern,
    kind,
    address,
    pageUrl,
    ...where,
    lineTest,
    encoderLimit,
    canBeSeen: look !== null,
    endsByApi: end !== null,
    rules,
  };
}

export async function listDestinations(db: Queryable): Promise<DestinationRow[]> {
  return db.select().from(destination).where(isNull(destination.removedAt)).orderBy(asc(destination.name));
}

export async function findDestination(db: Queryable, id: string): Promise<DestinationRow | undefined> {
  const [row] = await db
    .select()
    .from(destination)
    .where(and(eq(destination.id, id), isNull(destination.removedAt)));
  return row;
}

/** False: there is one with this id already. */
export async function addDestination(db: Queryable, row: NewDestination): Promise<boolean> {
  return (await db.insert(destination).values(row).onConflictDoNothing().returning()).length > 0;
}

export async function removeDestination(db: Queryable, id: string, atMs: number): Promise<void> {
  await db.update(destination).set({ removedAt: atMs, secret: null }).where(eq(destination.id, id));
}

export async function changeDestination(
  db: Queryable,
  id: string,
  values: Partial<Omit<DestinationRow, 'id' | 'kind' | 'addedAt'>>,
): Promise<void> {
  await db.update(destination).set(values).where(eq(destination.id, id));
}

/** The destinations of a show, in the order of its board. */
export async function destinationsOfShow(db: Queryable, showId: string): Promise<DestinationRow[]> {
  const rows = await db
    .select({ destination })
    .from(showDestination)
    .innerJoin(destination, eq(destination.id, showDestination.destinationId))
    .where(and(eq(showDestination.showId, showId), isNull(destination.removedAt)))
    .orderBy(asc(showDestination.position));
  return rows.map((row) => row.destination);
}

/** What is written for a listing by people. */
const written = ({ title, description, slot, settings }: typeof showDestination.$inferSelect) => ({
  title,
  description,
  slot,
  settings,
});

/**
 * Sets where a show goes, in this order. What was written for those that are taken off is kept, and is there again
 * when they are put back.
 */
export async function setShowDestinations(
  db: Queryable,
  showId: string,
  ids: readonly string[],
): Promise<void> {
  const { showId: ofShow, destinationId: at } = showDestination;
  const taken = await db
    .delete(showDestination)
    .where(and(eq(ofShow, showId), ids.length > 0 ? notInArray(at, [...ids]) : undefined))
    .returning();
  for (const row of taken)
    await db
      .insert(listingOff)
      .values({ showId, destinationId: row.destinationId, ...written(row) })
      .onConflictDoUpdate({ target: [listingOff.showId, listingOff.destinationId], set: written(row) });
  if (ids.length === 0) return;
  await db
    .insert(showDestination)
    .values(ids.map((destinationId, position) => ({ showId, destinationId, position })))
    .onConflictDoUpdate({ target: [ofShow, at], set: { position: sql`excluded.position` } });
  const back = await db
    .delete(listingOff)
    .where(and(eq(listingOff.showId, showId), inArray(listingOff.destinationId, [...ids])))
    .returning();
  for (const { destinationId, title, description, slot, settings } of back)
    await db
      .update(showDestination)
      .set({ title, description, slot, settings })
      .where(and(eq(ofShow, showId), eq(at, destinationId)));
}
