import { ON_ARRIVAL, SECOND_SENDERS, TRANSPORTS } from '@juncta/core/ingest';
import { index, integer, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { show } from '../shows/schema';

/** Where outside pictures of a show come in. */
export const ingestInput = pgTable(
  'ingest_input',
  {
    id: uuid().primaryKey(),
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    name: text().notNull(),
    transport: text({ enum: TRANSPORTS }).notNull().default('rtmp'),
    /** Of one that comes by SRT: its UDP port, of this house's few. */
    srtPort: integer('srt_port').unique(),
    /** Locked by the secret box: it is shown again. */
    lockedKey: text('locked_key').notNull(),
    second: text({ enum: SECOND_SENDERS }).notNull(),
    onArrival: text('on_arrival', { enum: ON_ARRIVAL }).notNull(),
    madeAt: instantMs('made_at').notNull(),
  },
  (t) => [index('ingest_input_show').on(t.showId, t.madeAt)],
);

/** Which outside picture is a show's programme; no row: the desk makes it. */
export const programmeInput = pgTable('programme_input', {
  showId: uuid('show_id')
    .primaryKey()
    .references(() => show.id, { onDelete: 'cascade' }),
  inputId: uuid('input_id')
    .notNull()
    .references(() => ingestInput.id, { onDelete: 'cascade' }),
});
