import { QUESTION_STATES, STANDINGS, type ChatActNoted } from '@juncta/contract/chat';
import type { ChatRule } from '@juncta/core/chat';
import { boolean, index, integer, jsonb, pgTable, primaryKey, text, unique, uuid } from 'drizzle-orm/pg-core';
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
    standing: text({ enum: STANDINGS }).notNull().default('shown'),
    /** The name of whoever, or the kind of the rule that, made it so. */
    standingBy: text('standing_by'),
    hiddenThere: boolean('hidden_there'),
    question: text({ enum: QUESTION_STATES }).notNull().default('none'),
  },
  (t) => [
    unique('chat_message_once').on(t.showId, t.destinationId, t.placeMessageId),
    index('chat_message_order').on(t.showId, t.writtenAt),
  ],
);

/** What was done with messages, by whom and when: only ever added to. */
export const chatAct = pgTable(
  'chat_act',
  {
    id: uuid().primaryKey(),
    showId: showId(),
    messageId: uuid('message_id')
      .notNull()
      .references(() => chatMessage.id, { onDelete: 'cascade' }),
    act: text().$type<ChatActNoted['act']>().notNull(),
    by: text().notNull(),
    at: instantMs('at').notNull(),
  },
  (t) => [index('chat_act_order').on(t.showId, t.at)],
);

/** Authors whose messages nobody of ours shows, for one show at one place. */
export const chatMuted = pgTable(
  'chat_muted',
  {
    showId: showId(),
    destinationId: destinationId(),
    authorId: text('author_id').notNull(),
    by: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId, t.authorId] })],
);

/** The house's rules for messages: one row. */
export const chatRules = pgTable('chat_rules', {
  id: integer().primaryKey(),
  rules: jsonb().$type<readonly ChatRule[]>().notNull(),
});

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
