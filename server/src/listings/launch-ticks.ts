import type { LaunchTick } from '@juncta/contract/listings';
import { and, eq } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { member } from '../team/schema';
import { launchTick } from './schema';

export async function ticksOf(db: Queryable, showId: string): Promise<LaunchTick[]> {
  return db
    .select({ itemId: launchTick.itemId, by: member.name, atMs: launchTick.tickedAt })
    .from(launchTick)
    .leftJoin(member, eq(member.id, launchTick.memberId))
    .where(eq(launchTick.showId, showId));
}

/** Puts a tick, or takes it away; a tick that is there stays whose it is. */
export async function setTick(
  db: Queryable,
  tick: typeof launchTick.$inferInsert,
  done: boolean,
): Promise<void> {
  const { showId, itemId } = tick;
  if (done) await db.insert(launchTick).values(tick).onConflictDoNothing();
  else await db.delete(launchTick).where(and(eq(launchTick.showId, showId), eq(launchTick.itemId, itemId)));
}
