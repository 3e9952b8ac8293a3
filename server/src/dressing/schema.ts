import type { Dressing } from '@juncta/core/dressing';
import { jsonb, pgTable, text } from 'drizzle-orm/pg-core';

/** How programmes look. */
export const dressing = pgTable('dressing', {
  /** `team`, or the id of a series. */
  scope: text().primaryKey(),
  dressing: jsonb().$type<Dressing>().notNull(),
});
