import type { FeedReport } from '@juncta/contract/relay';
import { FEED_STATES } from '@juncta/core/feeds';
import { bigint, boolean, index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { destination } from '../destinations/schema';
import { show } from '../shows/schema';

const showId = () =>
  uuid('show_id')
    .notNull()
    .references(() => show.id, { onDelete: 'cascade' });

/** What the team wants of a feed, and what the relay last said of it. */
export const feed = pgTable(
  'feed',
  {
    showId: showId(),
    destinationId: uuid('destination_id')
      .notNull()
      .references(() => destination.id),
    wanted: boolean().notNull(),
    report: jsonb().$type<FeedReport>(),
    reportedAt: instantMs('reported_at'),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId] })],
);

/** What became of each feed, in order of time: kept for the log on the desk and after the show. */
export const feedEvent = pgTable(
  'feed_event',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    showId: showId(),
    destinationId: uuid('destination_id').notNull(),
    /** By the machine that runs the relay. */
    atMs: instantMs('at').notNull(),
    state: text({ enum: FEED_STATES }).notNull(),
    reason: text(),
    placeSays: text('place_says'),
  },
  (t) => [index('feed_event_of').on(t.showId, t.destinationId, t.id)],
);

/** Figures of feeds under way, every few seconds. */
export const feedSample = pgTable(
  'feed_sample',
  {
    showId: showId(),
    destinationId: uuid('destination_id').notNull(),
    atMs: instantMs('at').notNull(),
    kbps: integer(),
    /** Since the feed was started. */
    leftOutFrames: integer('left_out_frames').notNull(),
    viewers: integer(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId, t.atMs] })],
);
