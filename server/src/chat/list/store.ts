import type { ChatActNoted, ChatMessage, ChatQuery, OnProgramme } from '@juncta/contract/chat';
import {
  aliasedTable,
  and,
  asc,
  desc,
  eq,
  gte,
  ilike,
  inArray,
  isNotNull,
  lt,
  ne,
  or,
  sql,
  type SQL,
} from 'drizzle-orm';
import type { Queryable } from '../../database/connect';
import { member } from '../../team/schema';
import { chatAct, chatMessage, chatMuted, onProgramme } from '../schema';

export type MessageRow = typeof chatMessage.$inferSelect;

const answered = aliasedTable(chatMessage, 'answered');
const taker = aliasedTable(member, 'taker');

function select(db: Queryable) {
  return db
    .select({ message: chatMessage, replyTo: answered.id, sentBy: member.name, taker: taker.name })
    .from(chatMessage)
    .leftJoin(member, eq(member.id, chatMessage.sentBy))
    .leftJoin(taker, eq(taker.id, chatMessage.takenBy))
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
  readonly taker: string | null;
}

const describe = ({ message, replyTo, sentBy, taker }: Selected): ChatMessage => ({
  id: message.id,
  showId: message.showId,
  destinationId: message.destinationId,
  kind: message.kind,
  author: {
    id: message.authorId,
    name: message.authorName,
    owner: message.owner,
    badges: [...message.badges],
    accountDays: message.accountDays,
    otherShows: message.otherShows,
  },
  first: message.first,
  text: message.text,
  editedAtMs: message.editedAt,
  takenBack: message.takenBack,
  writtenAtMs: message.writtenAt,
  showTimeMs: message.showTimeMs,
  showTimeAbout: message.showTimeAbout,
  replyTo,
  sentBy,
  standing: message.standing,
  by: message.standingBy,
  hiddenThere: message.hiddenThere,
  question: message.question,
  forHost: message.forHost,
  flood: message.floodId,
  takenBy: message.takenBy === null ? null : { memberId: message.takenBy, name: taker ?? '' },
  practice: message.practice,
});

export async function messagesWithIds(db: Queryable, ids: string[]): Promise<ChatMessage[]> {
  if (ids.length === 0) return [];
  return (
    await select(db)
      .where(sql`${chatMessage.id} = any(${sql.param(ids)})`)
      .orderBy(asc(chatMessage.writtenAt))
  ).map(describe);
}

/** The newest of a show, oldest first. */
export async function newestMessages(db: Queryable, showId: string, most: number): Promise<ChatMessage[]> {
  const rows = await select(db)
    .where(eq(chatMessage.showId, showId))
    .orderBy(desc(chatMessage.writtenAt), desc(chatMessage.id))
    .limit(most);
  return rows.map(describe).reverse();
}

const KINDS: Record<NonNullable<ChatQuery['kind']>, SQL> = {
  viewers: eq(chatMessage.owner, false),
  house: eq(chatMessage.owner, true),
  questions: eq(chatMessage.question, 'lined_up'),
  answered: eq(chatMessage.question, 'answered'),
  not_shown: ne(chatMessage.standing, 'shown'),
  private: eq(chatMessage.kind, 'private'),
  events: inArray(chatMessage.kind, ['follow', 'sale']),
  first: and(eq(chatMessage.first, true), eq(chatMessage.owner, false))!,
};

/** Those that a query means which stand last, at most so many, oldest first. */
export async function findMessages(
  db: Queryable,
  showId: string,
  { text, destinationId, kind, fromShowTimeMs, before }: ChatQuery,
  most: number,
): Promise<ChatMessage[]> {
  // What has a meaning in a pattern is meant as it stands.
  const pattern = `%${text.trim().replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`;
  const rows = await select(db)
    .where(
      and(
        eq(chatMessage.showId, showId),
        text.trim() === ''
          ? undefined
          : or(
              ilike(chatMessage.text, pattern),
              // Of what the house wrote, who wrote it is shown, and not what the place calls the house.
              and(eq(chatMessage.owner, false), ilike(chatMessage.authorName, pattern)),
              ilike(member.name, pattern),
            ),
        destinationId === null ? undefined : eq(chatMessage.destinationId, destinationId),
        kind === null ? undefined : KINDS[kind],
        fromShowTimeMs === null ? undefined : gte(chatMessage.showTimeMs, fromShowTimeMs),
        before === null
          ? undefined
          : sql`(${chatMessage.writtenAt}, ${chatMessage.id}) < (${new Date(before.writtenAtMs).toISOString()}::timestamptz, ${before.id}::uuid)`,
      ),
    )
    .orderBy(desc(chatMessage.writtenAt), desc(chatMessage.id))
    .limit(most);
  return rows.map(describe).reverse();
}

/** What was written, without what came with a practice. */
export async function allMessages(db: Queryable, showId: string): Promise<ChatMessage[]> {
  const rows = await select(db)
    .where(and(eq(chatMessage.showId, showId), eq(chatMessage.practice, false)))
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
  if (!row) return null;
  const { until } = row.onProgramme;
  if (until !== null && until <= nowMs) return null;
  const { message } = row;
  return {
    messageId: message.id,
    author: message.authorName,
    destinationId: message.destinationId,
    text: row.onProgramme.text ?? message.text,
    remainingMs: until === null ? null : Math.round(until - nowMs),
  };
}

/** Null takes off what is there. */
export async function setOnProgramme(
  db: Queryable,
  showId: string,
  values: { messageId: string; until: number | null; text: string | null } | null,
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

/** Changes how messages stand; gives those that are otherwise now. */
export async function changeMessages(
  db: Queryable,
  ids: readonly string[],
  values: Partial<
    Pick<
      MessageRow,
      'standing' | 'standingBy' | 'hiddenThere' | 'question' | 'forHost' | 'floodId' | 'takenBy' | 'takenAt'
    >
  >,
): Promise<ChatMessage[]> {
  if (ids.length === 0) return [];
  await db
    .update(chatMessage)
    .set(values)
    .where(sql`${chatMessage.id} = any(${sql.param([...ids])})`);
  return messagesWithIds(db, [...ids]);
}

/** Messages that somebody took before this, and did nothing with. */
export async function takenBefore(db: Queryable, atMs: number): Promise<{ id: string; showId: string }[]> {
  return db
    .select({ id: chatMessage.id, showId: chatMessage.showId })
    .from(chatMessage)
    .where(and(isNotNull(chatMessage.takenAt), lt(chatMessage.takenAt, atMs)));
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
    .orderBy(desc(chatAct.number))
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
