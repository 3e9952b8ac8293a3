import type { PlaceAccount } from '@juncta/contract/destinations';
import { and, asc, eq, gt, isNull, lt } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { show } from '../shows/schema';
import { connectorOf } from './connectors';
import { connecting, destination, placeAccount, showDestination } from './schema';

export type AccountRow = typeof placeAccount.$inferSelect;

export function describeAccount(row: AccountRow): PlaceAccount {
  const { id, kind, name, scopes, widest } = row;
  return {
    id,
    kind,
    place: connectorOf(kind).rules.place,
    name,
    scopes,
    widest,
    state: row.lostAt === null ? 'good' : 'lost',
    connectedAtMs: row.connectedAt,
  };
}

export async function listAccounts(db: Queryable): Promise<AccountRow[]> {
  return db.select().from(placeAccount).orderBy(asc(placeAccount.kind), asc(placeAccount.name));
}

export async function findAccount(db: Queryable, id: string): Promise<AccountRow | undefined> {
  const [row] = await db.select().from(placeAccount).where(eq(placeAccount.id, id));
  return row;
}

export async function findAccountAt(
  db: Queryable,
  kind: AccountRow['kind'],
  placeAccountId: string,
): Promise<AccountRow | undefined> {
  const [row] = await db
    .select()
    .from(placeAccount)
    .where(and(eq(placeAccount.kind, kind), eq(placeAccount.placeAccountId, placeAccountId)));
  return row;
}

/** Keeps an account, anew or as it is now. */
export async function keepAccount(db: Queryable, row: AccountRow): Promise<void> {
  await db.insert(placeAccount).values(row).onConflictDoUpdate({ target: placeAccount.id, set: row });
}

/** True: it was otherwise before. */
export async function setLost(db: Queryable, id: string, lostAt: number | null): Promise<boolean> {
  const otherwise = lostAt === null ? gt(placeAccount.lostAt, 0) : isNull(placeAccount.lostAt);
  const changed = await db
    .update(placeAccount)
    .set({ lostAt })
    .where(and(eq(placeAccount.id, id), otherwise))
    .returning({ id: placeAccount.id });
  return changed.length > 0;
}

export async function moveAccounts(db: Queryable, kind: AccountRow['kind'], address: string): Promise<void> {
  await db.update(placeAccount).set({ address }).where(eq(placeAccount.kind, kind));
}

/** Its destinations are removed first: they stand in what finished shows say. */
export async function forgetAccount(db: Queryable, id: string, atMs: number): Promise<void> {
  await db.update(destination).set({ removedAt: atMs, accountId: null }).where(eq(destination.accountId, id));
  await db.delete(placeAccount).where(eq(placeAccount.id, id));
}

/** Shows that are still to come, or on, and go to a destination of this account. */
export async function showsOfAccount(db: Queryable, id: string): Promise<{ id: string; title: string }[]> {
  const rows = await db
    .selectDistinct({ id: show.id, title: show.title })
    .from(showDestination)
    .innerJoin(destination, eq(destination.id, showDestination.destinationId))
    .innerJoin(show, eq(show.id, showDestination.showId))
    .where(and(eq(destination.accountId, id), isNull(show.endedAt), isNull(show.archivedAt)));
  return rows;
}

export async function beginConnecting(
  db: Queryable,
  row: typeof connecting.$inferSelect,
  nowMs: number,
): Promise<void> {
  await db.delete(connecting).where(lt(connecting.expiresAt, nowMs));
  await db.insert(connecting).values(row);
}

/** Uses it up; the one who comes second gets undefined. */
export async function useConnecting(db: Queryable, stateHash: string, nowMs: number) {
  const [row] = await db
    .delete(connecting)
    .where(and(eq(connecting.stateHash, stateHash), gt(connecting.expiresAt, nowMs)))
    .returning();
  return row;
}
