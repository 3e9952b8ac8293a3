import type { Destination, HouseRules } from '@juncta/contract/destinations';
import { and, asc, eq, isNull, notInArray, sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { connectorOf } from './connectors';
import { destination, showDestination } from './schema';

export type DestinationRow = typeof destination.$inferSelect;

/** What the team sees of one. Its secret stays here. */
export function describe(row: DestinationRow, rules: HouseRules): Destination {
  const { id, name, code, pattern, kind, address, pageUrl, accountId, placement } = row;
  const { look } = connectorOf(kind);
  const where = { accountId, placement: placement ?? null };
  return { id, name, code, pattern, kind, address, pageUrl, ...where, canBeSeen: look !== null, rules };
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
export async function addDestination(db: Queryable, row: DestinationRow): Promise<boolean> {
  return (await db.insert(destination).values(row).onConflictDoNothing().returning()).length > 0;
}

export async function removeDestination(db: Queryable, id: string, atMs: number): Promise<void> {
  await db.update(destination).set({ removedAt: atMs, secret: null }).where(eq(destination.id, id));
}

export async function changeDestination(
  db: Queryable,
  id: string,
  values: Partial<Pick<DestinationRow, 'address' | 'accountId' | 'placement' | 'pageUrl' | 'secret'>>,
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

export async function setShowDestinations(
  db: Queryable,
  showId: string,
  ids: readonly string[],
): Promise<void> {
  await db
    .delete(showDestination)
    .where(
      and(
        eq(showDestination.showId, showId),
        ids.length > 0 ? notInArray(showDestination.destinationId, [...ids]) : undefined,
      ),
    );
  if (ids.length === 0) return;
  await db
    .insert(showDestination)
    .values(ids.map((destinationId, position) => ({ showId, destinationId, position })))
    .onConflictDoUpdate({
      target: [showDestination.showId, showDestination.destinationId],
      set: { position: sql`excluded.position` },
    });
}
