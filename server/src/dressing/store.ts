import { Dressing, upgraded, type Dressings, type SavedDressing } from '@juncta/contract/dressing';
import { ALL_SHOWS, type ShowScope } from '@juncta/contract/shows';
import { PLAIN_DRESSING, type Dressing as DressingShape } from '@juncta/core/dressing';
import { eq, sql } from 'drizzle-orm';
import type { Queryable, Transaction } from '../database/connect';
import { versionOf } from '../database/version';
import { dressing } from './schema';

/** Two who save at once come one after the other. To be asked first in the transaction. */
export const lockDressings = (tx: Transaction) =>
  tx.execute(sql`select pg_advisory_xact_lock(hashtext('dressing'))`);

export async function dressingsOf(db: Queryable): Promise<Dressings> {
  const rows = await db.select().from(dressing);
  const own = Object.fromEntries(rows.map((row) => [row.scope, saved(row.dressing)]));
  const { [ALL_SHOWS]: team, ...bySeries } = own;
  return { team: team ?? saved(PLAIN_DRESSING), bySeries };
}

/** All that were saved, in the form of this version whatever wrote them. */
export async function savedDressings(db: Queryable): Promise<DressingShape[]> {
  const { team, bySeries } = await dressingsOf(db);
  return [team, ...Object.values(bySeries)].map((one) => one.dressing);
}

/** Its own, or the team's. */
export const dressingFor = ({ team, bySeries }: Dressings, scope: ShowScope): SavedDressing =>
  bySeries[scope] ?? team;

export async function putDressing(db: Queryable, scope: ShowScope, value: DressingShape): Promise<void> {
  await db
    .insert(dressing)
    .values({ scope, dressing: value })
    .onConflictDoUpdate({ target: dressing.scope, set: { dressing: value } });
}

export async function deleteDressing(db: Queryable, scope: ShowScope): Promise<void> {
  await db.delete(dressing).where(eq(dressing.scope, scope));
}

/**
 * PostgreSQL gives the parts of a JSON object in an order of its own; the version must not hang on it. What a dressing has come to
 * hold since its row was written has its first value.
 */
function saved(row: object): SavedDressing {
  const value = Dressing.parse(upgraded(row));
  return { version: versionOf(value), dressing: value };
}
