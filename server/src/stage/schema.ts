import type { OwnPlace, Stage } from '@juncta/core/stage';
import { integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { show } from '../shows/schema';

/** The stage of each show whose stage anybody ever touched. */
export const showStage = pgTable('show_stage', {
  showId: uuid('show_id')
    .primaryKey()
    .references(() => show.id, { onDelete: 'cascade' }),
  /** How often it changed. */
  version: integer().notNull(),
  stage: jsonb().$type<Stage>().notNull(),
  /** The changes that were carried out last, newest last: a change that comes again is known by its id. */
  done: jsonb().$type<readonly string[]>().notNull(),
});

/** Layouts that the team made. */
export const ownLayout = pgTable('own_layout', {
  id: uuid().primaryKey(),
  /** `team`, or the id of a series. */
  scope: text().notNull(),
  name: text().notNull(),
  places: jsonb().$type<readonly OwnPlace[]>().notNull(),
});
