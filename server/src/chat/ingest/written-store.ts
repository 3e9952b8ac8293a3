import type { ChatMessage } from '@juncta/contract/chat';
import { and, eq, sql } from 'drizzle-orm';
import type { Queryable } from '../../database/connect';
import { chatMessage } from '../schema';
import type { MessageRow } from '../list/store';

/** Messages as places bring them: added once, and changed when their writers change them. */
export type NewMessage = typeof chatMessage.$inferInsert;

/**
 * Keeps what is new; what is there already stays as it was. Gives what was new. The rows travel as one parameter: on a
 * loud evening a statement with one for each value takes more time to be put together than to be done.
 */
export async function addMessages(db: Queryable, rows: readonly NewMessage[]): Promise<string[]> {
  if (rows.length === 0) return [];
  const wire = rows.map((row) => ({
    id: row.id,
    show_id: row.showId,
    destination_id: row.destinationId,
    place_message_id: row.placeMessageId,
    kind: row.kind ?? 'message',
    author_id: row.authorId,
    author_name: row.authorName,
    owner: row.owner,
    badges: row.badges ?? [],
    account_days: row.accountDays ?? null,
    other_shows: row.otherShows ?? 0,
    first: row.first ?? false,
    text: row.text,
    edited_at: row.editedAt == null ? null : new Date(row.editedAt).toISOString(),
    taken_back: row.takenBack ?? false,
    written_at: new Date(row.writtenAt).toISOString(),
    received_at: new Date(row.receivedAt).toISOString(),
    show_time_ms: row.showTimeMs ?? null,
    show_time_about: row.showTimeAbout ?? false,
    reply_to_place_id: row.replyToPlaceId ?? null,
    sent_by: row.sentBy ?? null,
    standing: row.standing ?? 'shown',
    standing_by: row.standingBy ?? null,
    question: row.question ?? 'none',
    for_host: row.forHost ?? 'none',
    flood_id: row.floodId ?? null,
    practice: row.practice ?? false,
  }));
  const columns = sql.raw(Object.keys(wire[0]!).join(', '));
  const { rows: added } = await db.execute<{ id: string }>(sql`
    insert into chat_message (${columns})
    select ${columns} from jsonb_populate_recordset(null::chat_message, ${JSON.stringify(wire)}::jsonb)
    on conflict do nothing returning id`);
  return added.map(({ id }) => id);
}

/** A row as it was just added. Whom it answers is not looked up. */
export const describeNew = (row: NewMessage): ChatMessage => ({
  id: row.id,
  showId: row.showId,
  destinationId: row.destinationId,
  kind: row.kind ?? 'message',
  author: {
    id: row.authorId,
    name: row.authorName,
    owner: row.owner,
    badges: [...(row.badges ?? [])],
    accountDays: row.accountDays ?? null,
    otherShows: row.otherShows ?? 0,
  },
  first: row.first ?? false,
  text: row.text,
  editedAtMs: row.editedAt ?? null,
  takenBack: row.takenBack ?? false,
  writtenAtMs: row.writtenAt,
  showTimeMs: row.showTimeMs ?? null,
  showTimeAbout: row.showTimeAbout ?? false,
  replyTo: null,
  sentBy: null,
  standing: row.standing ?? 'shown',
  by: row.standingBy ?? null,
  hiddenThere: null,
  question: row.question ?? 'none',
  forHost: row.forHost ?? 'none',
  flood: row.floodId ?? null,
  takenBy: null,
  practice: row.practice ?? false,
});

export type KnownMessage = Pick<
  MessageRow,
  'id' | 'placeMessageId' | 'text' | 'editedAt' | 'takenBack' | 'standing' | 'standingBy' | 'question'
>;

/** Those of these that a place has brought before, by the place's own name of them, as they are kept. */
export async function knownMessages(
  db: Queryable,
  showId: string,
  destinationId: string,
  placeIds: readonly string[],
): Promise<ReadonlyMap<string, KnownMessage>> {
  if (placeIds.length === 0) return new Map();
  const rows = await db
    .select({
      id: chatMessage.id,
      placeMessageId: chatMessage.placeMessageId,
      text: chatMessage.text,
      editedAt: chatMessage.editedAt,
      takenBack: chatMessage.takenBack,
      standing: chatMessage.standing,
      standingBy: chatMessage.standingBy,
      question: chatMessage.question,
    })
    .from(chatMessage)
    .where(
      and(
        eq(chatMessage.showId, showId),
        eq(chatMessage.destinationId, destinationId),
        sql`${chatMessage.placeMessageId} = any(${sql.param([...placeIds])})`,
      ),
    );
  return new Map(rows.map((row) => [row.placeMessageId, row]));
}

/** What its writer changed; what it said at first is kept beside. */
export async function changeWritten(
  db: Queryable,
  id: string,
  values: Partial<
    Pick<MessageRow, 'text' | 'editedAt' | 'takenBack' | 'standing' | 'standingBy' | 'question'>
  >,
): Promise<void> {
  await db
    .update(chatMessage)
    .set({
      ...values,
      ...(values.text === undefined
        ? {}
        : { originalText: sql`coalesce(${chatMessage.originalText}, ${chatMessage.text})` }),
    })
    .where(eq(chatMessage.id, id));
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
