import type { ChatFlood } from '@juncta/contract/chat';
import { BY_FLOOD, LET_BE_WITH_FLOOD, type FloodMarks } from '@juncta/core/chat';
import { and, asc, desc, eq, gt, inArray, isNull, or } from 'drizzle-orm';
import type { Queryable } from '../../database/connect';
import { chatFlood, chatMessage } from '../schema';

export type FloodRow = typeof chatFlood.$inferSelect;

export const describeFlood = (row: FloodRow): ChatFlood => ({
  id: row.id,
  showId: row.showId,
  sinceMs: row.sinceAt,
  endedMs: row.endedAt,
  messages: row.messages,
  writers: row.writers,
  destinationIds: row.destinationIds,
  samples: row.samples,
  answer: row.answer,
  answeredBy: row.answeredBy,
});

/** Those that are coming, and those whose last message is younger than that; the newest first. */
export async function lateFloods(db: Queryable, showId: string, afterMs: number): Promise<FloodRow[]> {
  return db
    .select()
    .from(chatFlood)
    .where(and(eq(chatFlood.showId, showId), or(isNull(chatFlood.endedAt), gt(chatFlood.lastAt, afterMs))))
    .orderBy(desc(chatFlood.sinceAt), desc(chatFlood.id))
    .limit(10);
}

export async function findFlood(db: Queryable, showId: string, id: string): Promise<FloodRow | null> {
  const [row] = await db
    .select()
    .from(chatFlood)
    .where(and(eq(chatFlood.showId, showId), eq(chatFlood.id, id)))
    .for('update');
  return row ?? null;
}

export async function putFlood(db: Queryable, row: typeof chatFlood.$inferInsert): Promise<FloodRow> {
  const [kept] = await db
    .insert(chatFlood)
    .values(row)
    .onConflictDoUpdate({ target: chatFlood.id, set: row })
    .returning();
  return kept!;
}

/** Shows that have a flood which nobody has seen the end of. */
export async function openFloods(db: Queryable): Promise<FloodRow[]> {
  return db.select().from(chatFlood).where(isNull(chatFlood.endedAt));
}

/** Sets a flood's shown messages aside. Gives the first of it, for the log; null: there was none. */
export async function setFloodAside(db: Queryable, floodId: string): Promise<void> {
  await db
    .update(chatMessage)
    .set({ standing: 'aside', standingBy: BY_FLOOD, question: 'none' })
    .where(and(eq(chatMessage.floodId, floodId), eq(chatMessage.standing, 'shown')));
}

/** Shows again what was set aside because of a flood; what a person did, or other rules, stays. */
export async function letFloodBe(db: Queryable, floodId: string, by: string): Promise<void> {
  await db
    .update(chatMessage)
    .set({ standing: 'shown', standingBy: by })
    .where(
      and(
        eq(chatMessage.floodId, floodId),
        eq(chatMessage.standing, 'aside'),
        inArray(chatMessage.standingBy, [...LET_BE_WITH_FLOOD]),
      ),
    );
}

/** The destinations at which messages of a flood were written. */
export async function placesOfFlood(db: Queryable, floodId: string): Promise<string[]> {
  const rows = await db
    .selectDistinct({ destinationId: chatMessage.destinationId })
    .from(chatMessage)
    .where(eq(chatMessage.floodId, floodId))
    .orderBy(asc(chatMessage.destinationId));
  return rows.map(({ destinationId }) => destinationId);
}

export async function firstOfFlood(db: Queryable, floodId: string): Promise<string | null> {
  const [row] = await db
    .select({ id: chatMessage.id })
    .from(chatMessage)
    .where(eq(chatMessage.floodId, floodId))
    .orderBy(asc(chatMessage.receivedAt), asc(chatMessage.id))
    .limit(1);
  return row?.id ?? null;
}

export const marksOf = ({ traits, authors }: FloodRow): FloodMarks => ({ traits, authors });
