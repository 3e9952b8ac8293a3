import { boolean, index, integer, pgTable, primaryKey, text, unique, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { destination } from '../destinations/schema';
import { show } from '../shows/schema';
import { member } from '../team/schema';

const showId = () =>
  uuid('show_id')
    .notNull()
    .references(() => show.id, { onDelete: 'cascade' });
const destinationId = () =>
  uuid('destination_id')
    .notNull()
    .references(() => destination.id);

/** What was written at the places during and around a show: only ever added to. */
export const chatMessage = pgTable(
  'chat_message',
  {
    id: uuid().primaryKey(),
    showId: showId(),
    destinationId: destinationId(),
    /** The place's own name of it: what comes twice is kept once. */
    placeMessageId: text('place_message_id').notNull(),
    authorId: text('author_id').notNull(),
    authorName: text('author_name').notNull(),
    owner: boolean().notNull(),
    text: text().notNull(),
    writtenAt: instantMs('written_at').notNull(),
    receivedAt: instantMs('received_at').notNull(),
    showTimeMs: integer('show_time_ms'),
    /** The place's name of the message it answers. */
    replyToPlaceId: text('reply_to_place_id'),
    sentBy: uuid('sent_by').references(() => member.id),
  },
  (t) => [
    unique('chat_message_once').on(t.showId, t.destinationId, t.placeMessageId),
    index('chat_message_order').on(t.showId, t.writtenAt),
  ],
);

/** What the team wrote, by destination: written again, only what is missing is sent. */
export const chatSent = pgTable(
  'chat_sent',
  {
    id: uuid().notNull(),
    showId: showId(),
    destinationId: destinationId(),
  },
  (t) => [primaryKey({ columns: [t.id, t.destinationId] })],
);

/** The message on a show's programme. One that is over stays until the next. */
export const onProgramme = pgTable('on_programme', {
  showId: showId().primaryKey(),
  messageId: uuid('message_id')
    .notNull()
    .references(() => chatMessage.id, { onDelete: 'cascade' }),
  until: instantMs('until').notNull(),
});
