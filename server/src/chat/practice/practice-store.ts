import type { Practice, PracticeOutcome } from '@juncta/contract/chat';
import type { PracticeLine } from '@juncta/core/chat';
import { and, eq, gte, like } from 'drizzle-orm';
import type { Queryable } from '../../database/connect';
import { chatFlood, chatMessage, chatMuted, chatPractice, viewerNote } from '../schema';

export type PracticeRow = typeof chatPractice.$inferSelect;

/** Whoever writes in a practice: no place has writers of such a name. */
const WRITER = 'practice ';
export const practiceWriter = (name: string): string => WRITER + name;
export const practiceId = (line: number): string => `practice ${line}`;

export const describePractice = ({ by, startedAt, speed, lines, given }: PracticeRow): Practice => ({
  by,
  startedMs: startedAt,
  speed,
  messages: lines.length,
  given,
});

export async function practiceRow(db: Queryable, showId: string): Promise<PracticeRow | undefined> {
  const [row] = await db.select().from(chatPractice).where(eq(chatPractice.showId, showId));
  return row;
}

export async function findPractice(db: Queryable, showId: string): Promise<Practice | null> {
  const row = await practiceRow(db, showId);
  return row ? describePractice(row) : null;
}

export async function isPractising(db: Queryable, showId: string): Promise<boolean> {
  const rows = await db
    .select({ showId: chatPractice.showId })
    .from(chatPractice)
    .where(eq(chatPractice.showId, showId));
  return rows.length > 0;
}

export async function allPractices(db: Queryable): Promise<PracticeRow[]> {
  return db.select().from(chatPractice);
}

/** False: there is one already. */
export async function addPractice(db: Queryable, row: PracticeRow): Promise<boolean> {
  const added = await db
    .insert(chatPractice)
    .values(row)
    .onConflictDoNothing()
    .returning({ showId: chatPractice.showId });
  return added.length > 0;
}

export async function noteGiven(db: Queryable, showId: string, given: number): Promise<void> {
  await db.update(chatPractice).set({ given }).where(eq(chatPractice.showId, showId));
}

/** What was done with its messages, beside what was done with them that evening. */
export async function outcomeOf(
  db: Queryable,
  { showId, lines, given }: PracticeRow,
): Promise<PracticeOutcome> {
  const rows = await db
    .select({
      id: chatMessage.placeMessageId,
      standing: chatMessage.standing,
      question: chatMessage.question,
    })
    .from(chatMessage)
    .where(and(eq(chatMessage.showId, showId), eq(chatMessage.practice, true), eq(chatMessage.owner, false)));
  const now = new Map(rows.map((row) => [row.id, row]));
  const both = lines.slice(0, given).map((then: PracticeLine, i) => {
    const is = now.get(practiceId(i));
    return {
      then,
      notShown: (is?.standing ?? 'shown') !== 'shown',
      asked: (is?.question ?? 'none') !== 'none',
    };
  });
  const count = (which: (one: (typeof both)[number]) => boolean) => both.filter(which).length;
  return {
    given,
    notShownThen: count(({ then }) => then.notShown),
    notShownBoth: count(({ then, notShown }) => then.notShown && notShown),
    notShownNow: count(({ notShown }) => notShown),
    askedThen: count(({ then }) => then.asked),
    askedBoth: count(({ then, asked }) => then.asked && asked),
    askedNow: count(({ asked }) => asked),
  };
}

/** Takes away all that came with a practice: its messages, floods, mutes and notes. */
export async function clearPractice(db: Queryable, { showId, startedAt }: PracticeRow): Promise<void> {
  await db.delete(chatMessage).where(and(eq(chatMessage.showId, showId), eq(chatMessage.practice, true)));
  await db.delete(chatFlood).where(and(eq(chatFlood.showId, showId), gte(chatFlood.sinceAt, startedAt)));
  await db.delete(chatMuted).where(and(eq(chatMuted.showId, showId), like(chatMuted.authorId, `${WRITER}%`)));
  await db.delete(viewerNote).where(like(viewerNote.authorId, `${WRITER}%`));
  await db.delete(chatPractice).where(eq(chatPractice.showId, showId));
}
