import type { Composing } from '@juncta/contract/programme';
import type { Clock } from '@juncta/core/clock';
import { rolesWith } from '@juncta/core/team';
import { and, eq, exists, gt, inArray, isNotNull, isNull, not, sql } from 'drizzle-orm';
import { session } from '../access/schema';
import { hashToken } from '../access/tokens';
import type { Queryable } from '../database/connect';
import { member } from '../team/schema';
import { composing } from './schema';

export type ComposingRow = typeof composing.$inferSelect;

/** Whoever composes a show, or did last; undefined: nobody ever has. */
export async function findComposing(
  db: Queryable,
  showId: string,
): Promise<(ComposingRow & { memberName: string }) | undefined> {
  const [row] = await db
    .select({ composing, memberName: member.name })
    .from(composing)
    .innerJoin(member, eq(member.id, composing.memberId))
    .where(eq(composing.showId, showId));
  return row && { ...row.composing, memberName: row.memberName };
}

export const describeComposing = (row: ComposingRow & { memberName: string }): Composing => ({
  deskId: row.deskId,
  memberName: row.memberName,
  sinceMs: row.takenAt,
});

/**
 * Gives the composing to a tab; with the next epoch if another had it.
 *
 * @param sessionToken of whoever asks: with that session the composing ends
 */
export async function takeComposing(
  db: Queryable,
  values: Pick<ComposingRow, 'showId' | 'deskId' | 'memberId' | 'takenAt'>,
  sessionToken: string,
): Promise<number> {
  const taken = { ...values, sessionHash: hashToken(sessionToken) };
  const [row] = await db
    .insert(composing)
    .values({ ...taken, epoch: 1 })
    .onConflictDoUpdate({
      target: composing.showId,
      set: {
        ...taken,
        epoch: sql`${composing.epoch} + (case when ${composing.deskId} = ${values.deskId} then 0 else 1 end)`,
      },
    })
    .returning({ epoch: composing.epoch });
  return row!.epoch;
}

/** Whether this tab composes already, by this very session: then nothing changes when it asks again. */
export const isComposedBy = (row: ComposingRow, deskId: string, sessionToken: string): boolean =>
  row.deskId === deskId && row.sessionHash === hashToken(sessionToken);

/** Somebody signed in again in the same browser, which ended the session before: what they compose goes on. */
export async function handOverComposings(
  db: Queryable,
  memberId: string,
  fromToken: string,
  toToken: string,
): Promise<void> {
  await db
    .update(composing)
    .set({ sessionHash: hashToken(toToken) })
    .where(and(eq(composing.memberId, memberId), eq(composing.sessionHash, hashToken(fromToken))));
}

/**
 * Raises the epoch of every show whose composing has no session any longer (signed out, run out, password changed
 * elsewhere, member removed) or belongs to somebody who may not run a show any more. Each is found once.
 *
 * @returns the shows with their new epochs, for the relay to cut the lines
 */
export async function revokeComposings(
  db: Queryable,
  securityClock: Clock,
): Promise<{ showId: string; epoch: number }[]> {
  const good = db
    .select({ one: sql`1` })
    .from(session)
    .innerJoin(member, eq(member.id, session.memberId))
    .where(
      and(
        eq(session.tokenHash, composing.sessionHash),
        eq(session.memberId, composing.memberId),
        gt(session.expiresAt, securityClock.now()),
        isNull(member.removedAt),
        inArray(member.role, [...rolesWith('show.run')]),
      ),
    );
  return db
    .update(composing)
    .set({ epoch: sql`${composing.epoch} + 1`, sessionHash: null })
    .where(and(isNotNull(composing.sessionHash), not(exists(good))))
    .returning({ showId: composing.showId, epoch: composing.epoch });
}
