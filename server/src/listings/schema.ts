import type { SettingValues } from '@juncta/core/listings';
import { index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { bytes, instantMs } from '../database/columns';
import { show } from '../shows/schema';
import { member } from '../team/schema';

/** What the house wants wherever a place has it. */
export const houseDefault = pgTable('house_default', {
  /** `team`, or the id of a series. */
  scope: text().primaryKey(),
  settings: jsonb().$type<SettingValues>().notNull().default({}),
  /** Only the team's: how long before the start somebody is at the desk. */
  atDeskMinutes: integer('at_desk_minutes').notNull().default(40),
});

/** What people ticked on a launch sheet. */
export const launchTick = pgTable(
  'launch_tick',
  {
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    itemId: text('item_id').notNull(),
    memberId: uuid('member_id').references(() => member.id),
    tickedAt: instantMs('ticked_at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.itemId] })],
);

export const LAUNCH_JOBS = ['book', 'look', 'lapse_look'] as const;

/** What the machine does for a launch sheet when its time has come. Safe to repeat. */
export const launchJob = pgTable(
  'launch_job',
  {
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    destinationId: uuid('destination_id').notNull(),
    job: text({ enum: LAUNCH_JOBS }).notNull(),
    dueAt: instantMs('due_at').notNull(),
    /** How often it was tried in vain. */
    tries: integer().notNull().default(0),
    doneAt: instantMs('done_at'),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId, t.job] }), index('launch_job_due').on(t.dueAt)],
);

/** Pictures that were uploaded, made anew. What each is stands with its show or listing. */
export const picture = pgTable(
  'picture',
  {
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    /** `show`, or a destination's id. */
    scope: text().notNull(),
    type: text({ enum: ['image/png', 'image/jpeg'] }).notNull(),
    bytes: bytes().notNull(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.scope] })],
);
