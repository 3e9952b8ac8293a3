import { TIMED_STATES, type ChatActNoted } from '@juncta/contract/chat';
import {
  FLOOD_ANSWERS,
  FOR_HOST_STATES,
  MESSAGE_KINDS,
  QUESTION_STATES,
  STANDINGS,
  type ChatRule,
  type PracticeLine,
  type ReactionCounts,
} from '@juncta/core/chat';
import type { OverlayBox } from '@juncta/core/stage';
import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  unique,
  uuid,
} from 'drizzle-orm/pg-core';
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

/** Floods that were noticed, with what they are known by. */
export const chatFlood = pgTable(
  'chat_flood',
  {
    id: uuid().primaryKey(),
    showId: showId(),
    sinceAt: instantMs('since_at').notNull(),
    lastAt: instantMs('last_at').notNull(),
    /** Null: it is still coming. */
    endedAt: instantMs('ended_at'),
    messages: integer().notNull(),
    writers: integer().notNull(),
    destinationIds: jsonb('destination_ids').$type<string[]>().notNull(),
    /** What most of it says, the most frequent first. */
    samples: jsonb().$type<string[]>().notNull(),
    traits: jsonb().$type<readonly string[]>().notNull(),
    authors: jsonb().$type<readonly string[]>().notNull(),
    answer: text({ enum: FLOOD_ANSWERS }).notNull().default('open'),
    /** The name of whoever answered it. */
    answeredBy: text('answered_by'),
  },
  (t) => [index('chat_flood_order').on(t.showId, t.lastAt)],
);

/** What was written at the places during and around a show. What a writer changes or takes back is kept as it was. */
export const chatMessage = pgTable(
  'chat_message',
  {
    id: uuid().primaryKey(),
    showId: showId(),
    destinationId: destinationId(),
    /** The place's own name of it: what comes twice is kept once. */
    placeMessageId: text('place_message_id').notNull(),
    kind: text({ enum: MESSAGE_KINDS }).notNull().default('message'),
    authorId: text('author_id').notNull(),
    authorName: text('author_name').notNull(),
    owner: boolean().notNull(),
    badges: jsonb().$type<readonly string[]>().notNull().default([]),
    /** Age of the account when this was written, days. */
    accountDays: integer('account_days'),
    /** In how many other shows its writer had written at this destination. */
    otherShows: integer('other_shows').notNull().default(0),
    /** The first of its writer in this show. */
    first: boolean().notNull().default(false),
    text: text().notNull(),
    /** Changed by its writer over there. */
    editedAt: instantMs('edited_at'),
    /** As it was at first; null: it was never changed. */
    originalText: text('original_text'),
    /** By its writer or their place. */
    takenBack: boolean('taken_back').notNull().default(false),
    writtenAt: instantMs('written_at').notNull(),
    receivedAt: instantMs('received_at').notNull(),
    showTimeMs: integer('show_time_ms'),
    /** Reckoned by the house rule for its place, since nothing else was known then. */
    showTimeAbout: boolean('show_time_about').notNull().default(false),
    /** The place's name of the message it answers. */
    replyToPlaceId: text('reply_to_place_id'),
    sentBy: uuid('sent_by').references(() => member.id),
    standing: text({ enum: STANDINGS }).notNull().default('shown'),
    /** The name of whoever, or the kind of the rule that, made it so. */
    standingBy: text('standing_by'),
    hiddenThere: boolean('hidden_there'),
    question: text({ enum: QUESTION_STATES }).notNull().default('none'),
    forHost: text('for_host', { enum: FOR_HOST_STATES }).notNull().default('none'),
    floodId: uuid('flood_id').references(() => chatFlood.id, { onDelete: 'set null' }),
    takenBy: uuid('taken_by').references(() => member.id, { onDelete: 'set null' }),
    takenAt: instantMs('taken_at'),
    /** It came with a practice, and goes with it. */
    practice: boolean().notNull().default(false),
  },
  (t) => [
    unique('chat_message_once').on(t.showId, t.destinationId, t.placeMessageId),
    index('chat_message_order').on(t.showId, t.writtenAt),
    index('chat_message_of_flood').on(t.floodId),
    index('chat_message_taken')
      .on(t.takenAt)
      .where(sql`taken_at is not null`),
    index('chat_message_about')
      .on(t.showId, t.destinationId)
      .where(sql`show_time_about`),
  ],
);

/** Pages of viewers' messages with nothing behind them, for outside encoders and second screens. */
export const overlayPage = pgTable('overlay_page', {
  /** `team`, or the id of a series. */
  scope: text().primaryKey(),
  /** Of what the address carries: by it the page is found. */
  tokenHash: text('token_hash').notNull().unique(),
  /** The same, locked: its owner is shown the address whenever they ask. */
  token: text().notNull(),
  box: jsonb().$type<OverlayBox>().notNull(),
});

/** Messages of another evening that are being given once more at a show. */
export const chatPractice = pgTable('chat_practice', {
  showId: showId().primaryKey(),
  /** The name of whoever began it. */
  by: text().notNull(),
  startedAt: instantMs('started_at').notNull(),
  speed: integer().notNull(),
  lines: jsonb().$type<readonly PracticeLine[]>().notNull(),
  /** How many of them were given. */
  given: integer().notNull().default(0),
});

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
    /** The order in which they were noted: two may have the same instant, and clocks are set back. */
    number: bigint({ mode: 'number' }).generatedAlwaysAsIdentity(),
  },
  (t) => [index('chat_act_order').on(t.showId, t.number)],
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

/** Who wrote in which show at which destination: what tells first messages, and viewers who come again. */
export const chatWriter = pgTable(
  'chat_writer',
  {
    destinationId: destinationId(),
    authorId: text('author_id').notNull(),
    showId: showId(),
    /** Of the first message that we have. */
    at: instantMs('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.destinationId, t.authorId, t.showId] })],
);

/** What the team keeps in mind about a viewer, at one destination and over all shows. */
export const viewerNote = pgTable(
  'viewer_note',
  {
    destinationId: uuid('destination_id')
      .notNull()
      .references(() => destination.id, { onDelete: 'cascade' }),
    authorId: text('author_id').notNull(),
    note: text().notNull(),
    /** The name of whoever wrote it last. */
    by: text().notNull(),
    at: instantMs('at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.destinationId, t.authorId] })],
);

/** What viewers pressed at one destination of a show. */
export const chatReactions = pgTable(
  'chat_reactions',
  {
    showId: showId(),
    destinationId: destinationId(),
    /** As the place last told them. */
    totals: jsonb().$type<ReactionCounts>().notNull(),
    /** Those of this show. */
    counts: jsonb().$type<ReactionCounts>().notNull(),
    /** By the minute of the show that viewers there were watching. */
    minutes: jsonb().$type<Readonly<Record<string, number>>>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId] })],
);

/** Rules for messages that hold for one show instead of the house's. */
export const showChatRules = pgTable('show_chat_rules', {
  showId: showId().primaryKey(),
  rules: jsonb().$type<readonly ChatRule[]>().notNull(),
});

/** The house's rules for messages: one row. */
export const chatRules = pgTable('chat_rules', {
  id: integer().primaryKey(),
  rules: jsonb().$type<readonly ChatRule[]>().notNull(),
});

/** Texts that the house keeps ready, in their order. */
export const houseText = pgTable('house_text', {
  id: uuid().primaryKey(),
  text: text().notNull(),
  position: integer().notNull(),
});

/** Texts that are written by themselves, once each. */
export const timedText = pgTable(
  'timed_text',
  {
    id: uuid().primaryKey(),
    showId: showId(),
    text: text().notNull(),
    kind: text({ enum: ['before', 'show'] }).notNull(),
    seconds: integer().notNull(),
    state: text({ enum: TIMED_STATES }).notNull().default('waiting'),
    sentence: text(),
    tries: integer().notNull().default(0),
    /** In whose name. */
    madeBy: uuid('made_by')
      .notNull()
      .references(() => member.id),
  },
  (t) => [index('timed_text_waiting').on(t.showId, t.state)],
);

/**
 * What the team wrote, by destination: claimed before it is sent, so that it is sent once. `in_flight`: somebody sends it
 * just now, or died over it; `unsure`: the place gave no answer that tells whether it took it.
 */
export const chatSent = pgTable(
  'chat_sent',
  {
    id: uuid().notNull(),
    showId: showId(),
    destinationId: destinationId(),
    state: text({ enum: ['in_flight', 'unsure', 'sent'] })
      .notNull()
      .default('sent'),
    /** By the machine's clock. */
    claimedAt: instantMs('claimed_at')
      .notNull()
      .default(sql`to_timestamp(0)`),
  },
  (t) => [primaryKey({ columns: [t.id, t.destinationId] })],
);

/** The message on a show's programme. One that is over stays until the next. */
export const onProgramme = pgTable('on_programme', {
  showId: showId().primaryKey(),
  messageId: uuid('message_id')
    .notNull()
    .references(() => chatMessage.id, { onDelete: 'cascade' }),
  /** Null: until it is taken off. */
  until: instantMs('until'),
  /** As it stands on the screen; null: as it was written. */
  text: text(),
});
