import type { ProgrammeReport } from '@juncta/contract/relay';
import { integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { member } from '../team/schema';
import { show } from '../shows/schema';

const showId = () =>
  uuid('show_id')
    .notNull()
    .references(() => show.id, { onDelete: 'cascade' });

/** Who composes a show; the epoch counts the take-overs and never goes back. */
export const composing = pgTable('composing', {
  showId: showId().primaryKey(),
  epoch: integer().notNull(),
  deskId: uuid('desk_id').notNull(),
  memberId: uuid('member_id')
    .notNull()
    .references(() => member.id),
  takenAt: instantMs('taken_at').notNull(),
  /** Of the session by which it was taken; null: that has ended, and nobody may compose by it any longer. */
  sessionHash: text('session_hash'),
});

/** One recorded run of a show, from its start to its end. At most one of a show has no end. */
export const run = pgTable('run', {
  id: uuid().primaryKey(),
  showId: showId(),
  startedAt: instantMs('started_at').notNull(),
  endedAt: instantMs('ended_at'),
});

/** The last report of each programme: what a page is shown first, and while the relay is away. */
export const programme = pgTable('programme', {
  showId: showId().primaryKey(),
  report: jsonb().$type<ProgrammeReport>().notNull(),
  /** The report without its figures: when it changes, everybody is told. */
  states: text().notNull(),
  reportedAt: instantMs('reported_at').notNull(),
});
