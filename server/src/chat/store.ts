import type { ChatActNoted, ChatMessage, OnProgramme } from '@juncta/contract/chat';
import { USUAL_RULES, type ChatRule } from '@juncta/core/chat';
import { aliasedTable, and, asc, desc, eq, inArray } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { member } from '../team/schema';
import { chatAct, chatMessage, chatMuted, chatRules, chatSent, onProgramme } from './schema';

export type MessageRow = typeof chatMessage.$inferSelect;
export type NewMessage = typeof chatMessage.$inferInsert;

/** Keeps what is new; what is there already stays as it was. Gives what was new. */
export async function addMessages(db: Queryable, rows: NewMessage[]): Promise<string[]> {
  if (rows.length === 0) return [];
  const added = await db
    .insert(chatMessage)
    .values(rows)
    .onConflictDoNothing()
    .returning({ id: chatMessage.id });
  return added.map(({ id }) => id);
}

/** Which of these a place has brought before. */
export async function knownPlaceIds(
  db: Queryable,
  showId: string,
  destinationId: string,
  placeIds: readonly string[],
): Promise<ReadonlySet<string>> {
  if (placeIds.length === 0) return new Set();
  const rows = await db
    .select({ placeId: chatMessage.placeMessageId })
    .from(chatMessage)
    .where(
      and(
        eq(chatMessage.showId, showId),
        eq(chatMessage.destinationId, destinationId),
        inArray(chatMessage.placeMessageId, [...placeIds]),
      ),
    );
  return new Set(rows.map(({ placeId }) => placeId));
}

const answered = aliasedTable(chatMessage, 'answered');

function select(db: Queryable) {
  return db
    .select({ message: chatMessage, replyTo: answered.id, sentBy: member.name })
    .from(chatMessage)
    .leftJoin(member, eq(member.id, chatMessage.sentBy))
    .leftJoin(
      answered,
      and(
        eq(answered.showId, chatMessage.showId),
        eq(answered.destinationId, chatMessage.destinationId),
        eq(answered.placeMessageId, chatMessage.replyToPlaceId),
      ),
    );
}
interface Selected {
  readonly message: MessageRow;
  readonly replyTo: string | null;
  readonly sentBy: string | null;
}

const describe = ({ message, replyTo, sentBy }: Selected): ChatMessage => ({
  id: message.id,
  showId: message.showId,
  destinationId: message.destinationId,
  author: { id: message.authorId, name: message.authorName, owner: message.owner },
  text: message.text,
  writtenAtMs: message.writtenAt,
  showTimeMs: message.showTimeMs,
  replyTo,
  sentBy,
  standing: message.standing,
  by: message.standingBy,
  hiddenThere: message.hiddenThere,
  question: message.question,
});

export async function messagesWithIds(db: Queryable, ids: string[]): Promise<ChatMessage[]> {
  if (ids.length === 0) return [];
  return (await select(db).where(inArray(chatMessage.id, ids)).orderBy(asc(chatMessage.writtenAt))).map(
    describe,
  );
}

/** The newest of a show, oldest first. */
export async function newestMessages(db: Queryable, showId: string, most: number): Promise<ChatMessage[]> {
  const rows = await select(db)
    .where(eq(chatMessage.showId, showId))
    .orderBy(desc(chatMessage.writtenAt), desc(chatMessage.id))
    .limit(most);
  return rows.map(describe).reverse();
}

export async function allMessages(db: Queryable, showId: string): Promise<ChatMessage[]> {
  const rows = await select(db)
    .where(eq(chatMessage.showId, showId))
    .orderBy(asc(chatMessage.writtenAt), asc(chatMessage.id));
  return rows.map(describe);
}

export async function findMessage(
  db: Queryable,
  showId: string,
  id: string,
): Promise<MessageRow | undefined> {
  const [row] = await db
    .select()
    .from(chatMessage)
    .where(and(eq(chatMessage.showId, showId), eq(chatMessage.id, id)));
  return row;
}

/** Where this was sent already. */
export async function sentTo(db: Queryable, id: string): Promise<string[]> {
  const rows = await db.select().from(chatSent).where(eq(chatSent.id, id));
  return rows.map(({ destinationId }) => destinationId);
}

export async function addSent(
  db: Queryable,
  values: { id: string; showId: string; destinationId: string },
): Promise<void> {
  await db.insert(chatSent).values(values).onConflictDoNothing();
}

/** What is on the programme; null when nothing is, or its time is over. */
export async function findOnProgramme(
  db: Queryable,
  showId: string,
  nowMs: number,
): Promise<OnProgramme | null> {
  const [row] = await db
    .select({ onProgramme, message: chatMessage })
    .from(onProgramme)
    .innerJoin(chatMessage, eq(chatMessage.id, onProgramme.messageId))
    .where(eq(onProgramme.showId, showId));
  if (!row || row.onProgramme.until <= nowMs) return null;
  const { message } = row;
  return {
    messageId: message.id,
    author: message.authorName,
    destinationId: message.destinationId,
    text: message.text,
    remainingMs: Math.round(row.onProgramme.until - nowMs),
  };
}

/** Null takes off what is there. */
export async function setOnProgramme(
  db: Queryable,
  showId: string,
  values: { messageId: string; until: number } | null,
): Promise<void> {
  if (!values) {
    await db.delete(onProgramme).where(eq(onProgramme.showId, showId));
    return;
  }
  await db
    .insert(onProgramme)
    .values({ showId, ...values })
    .onConflictDoUpdate({ target: onProgramme.showId, set: values });
}

/** Adds who of the team wrote a message that the place's line brought first. */
export async function nameSender(
  db: Queryable,
  showId: string,
  destinationId: string,
  placeMessageId: string,
  sentBy: string,
): Promise<string[]> {
  const rows = await db
    .update(chatMessage)
    .set({ sentBy })
    .where(
      and(
        eq(chatMessage.showId, showId),
        eq(chatMessage.destinationId, destinationId),
        eq(chatMessage.placeMessageId, placeMessageId),
      ),
    )
    .returning({ id: chatMessage.id });
  return rows.map(({ id }) => id);
}

/** Changes how messages stand; gives those that are otherwise now. */
export async function changeMessages(
  db: Queryable,
  ids: readonly string[],
  values: Partial<Pick<MessageRow, 'standing' | 'standingBy' | 'hiddenThere' | 'question'>>,
): Promise<ChatMessage[]> {
  if (ids.length === 0) return [];
  await db
    .update(chatMessage)
    .set(values)
    .where(inArray(chatMessage.id, [...ids]));
  return messagesWithIds(db, [...ids]);
}

/** Ids of everything that an author wrote in a show at one place. */
export async function messagesBy(db: Queryable, row: MessageRow): Promise<string[]> {
  const rows = await db
    .select({ id: chatMessage.id })
    .from(chatMessage)
    .where(
      and(
        eq(chatMessage.showId, row.showId),
        eq(chatMessage.destinationId, row.destinationId),
        eq(chatMessage.authorId, row.authorId),
      ),
    );
  return rows.map(({ id }) => id);
}

export async function noteActs(db: Queryable, rows: (typeof chatAct.$inferInsert)[]): Promise<void> {
  if (rows.length > 0) await db.insert(chatAct).values(rows);
}

export async function readActs(db: Queryable, showId: string, most: number): Promise<ChatActNoted[]> {
  const rows = await db
    .select({ noted: chatAct, author: chatMessage.authorName, text: chatMessage.text })
    .from(chatAct)
    .innerJoin(chatMessage, eq(chatMessage.id, chatAct.messageId))
    .where(eq(chatAct.showId, showId))
    .orderBy(desc(chatAct.at), desc(chatAct.id))
    .limit(most);
  return rows.map(({ noted: { at, act, by }, author, text }) => ({ atMs: at, act, by, author, text }));
}

export async function mute(db: Queryable, row: MessageRow, by: string): Promise<void> {
  const { showId, destinationId, authorId } = row;
  await db.insert(chatMuted).values({ showId, destinationId, authorId, by }).onConflictDoNothing();
}

export async function unmute(db: Queryable, { showId, destinationId, authorId }: MessageRow): Promise<void> {
  await db
    .delete(chatMuted)
    .where(
      and(
        eq(chatMuted.showId, showId),
        eq(chatMuted.destinationId, destinationId),
        eq(chatMuted.authorId, authorId),
      ),
    );
}

/** Who is muted in a show at one place, with whoever did it. */
export async function mutedAt(
  db: Queryable,
  showId: string,
  destinationId: string,
): Promise<ReadonlyMap<string, string>> {
  const rows = await db
    .select()
    .from(chatMuted)
    .where(and(eq(chatMuted.showId, showId), eq(chatMuted.destinationId, destinationId)));
  return new Map(rows.map(({ authorId, by }) => [authorId, by]));
}

const ONLY_ROW = 1;

export async function readRules(db: Queryable): Promise<readonly ChatRule[]> {
  const [row] = await db.select().from(chatRules).where(eq(chatRules.id, ONLY_ROW));
  return row?.rules ?? USUAL_RULES;
}

export async function saveRules(db: Queryable, rules: readonly ChatRule[]): Promise<void> {
  await db
    .insert(chatRules)
    .values({ id: ONLY_ROW, rules })
    .onConflictDoUpdate({ target: chatRules.id, set: { rules } });
}
