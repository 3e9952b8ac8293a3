import { ON_ARRIVAL, SECOND_SENDERS, TRANSPORTS } from '@juncta/core/ingest';
import { boolean, index, integer, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { show } from '../shows/schema';

/** Where outside pictures of a show come in. */
export const ingestInput = pgTable(
  'ingest_input',
  {
    id: uuid().primaryKey(),
    /** Null: it is the team's, and booked to no show. Shows are archived, not deleted. */
    showId: uuid('show_id').references(() => show.id, { onDelete: 'cascade' }),
    /** It stays with the team, whichever show it is booked to. */
    isStanding: boolean('is_standing').notNull().default(false),
    name: text().notNull(),
    transport: text({ enum: TRANSPORTS }).notNull().default('rtmp'),
    /** Of one that comes by SRT: its UDP port, of this house's few. */
    srtPort: integer('srt_port').unique(),
    /** Of one that is called: where it listens. */
    calledAddress: text('called_address'),
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
