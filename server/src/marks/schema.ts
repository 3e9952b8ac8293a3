import { index, integer, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { show } from '../shows/schema';

/** Moments of shows that somebody marked. */
export const showMark = pgTable(
  'show_mark',
  {
    id: uuid().primaryKey(),
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    showTimeMs: integer('show_time_ms').notNull(),
    /** When it went out, by the machine's clock. */
    at: instantMs('at').notNull(),
    words: text().notNull(),
    /** The name of whoever marked it. */
    by: text().notNull(),
  },
  (t) => [index('show_mark_order').on(t.showId, t.showTimeMs)],
);
