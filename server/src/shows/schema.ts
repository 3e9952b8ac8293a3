import type { Picture } from '@juncta/contract/listings';
import type { Recurrence } from '@juncta/contract/shows';
import type { SettingValues } from '@juncta/core/listings';
import { PICTURE_FORMATS, USUAL_FORMAT } from '@juncta/core/programme';
import { index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { member } from '../team/schema';

export const series = pgTable('series', {
  id: uuid().primaryKey(),
  name: text().notNull(),
  /** When it is on; null: its shows are planned one by one. */
  recurrence: jsonb().$type<Recurrence>(),
});

export const show = pgTable(
  'show',
  {
    id: uuid().primaryKey(),
    version: integer().notNull(),
    title: text().notNull(),
    description: text().notNull(),
    seriesId: uuid('series_id').references(() => series.id),
    /** Wall time and zone are what was planned; `startsAt` follows from them. All null while undated. */
    startLocal: text('start_local'),
    startZone: text('start_zone'),
    startFold: text('start_fold', { enum: ['earlier', 'later'] }),
    startsAt: instantMs('starts_at'),
    plannedMinutes: integer('planned_minutes').notNull(),
    startedAt: instantMs('started_at'),
    endedAt: instantMs('ended_at'),
    archivedAt: instantMs('archived_at'),
    editedAt: instantMs('edited_at').notNull(),
    editedBy: uuid('edited_by').references(() => member.id),
    /** How long the programme is held back, s. */
    delayS: integer('delay_s').notNull().default(0),
    /** Size and rate of the programme. */
    pictureFormat: text('picture_format', { enum: PICTURE_FORMATS }).notNull().default(USUAL_FORMAT),
    /** Settings that all listings share. */
    shared: jsonb().$type<SettingValues>().notNull().default({}),
    /** The picture that all listings share. */
    picture: jsonb().$type<Picture>(),
  },
  (t) => [index('show_starts').on(t.startsAt)],
);

export const showPerson = pgTable(
  'show_person',
  {
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    id: uuid().notNull(),
    position: integer().notNull(),
    /** Null for guests. */
    memberId: uuid('member_id').references(() => member.id),
    name: text().notNull(),
    part: text({ enum: ['host', 'producer', 'moderator', 'guest'] }).notNull(),
    about: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.id] })],
);
