import { RECORDING_KINDS, RECORDING_STATES, type Recording } from '@juncta/contract/recordings';
import { bigint, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { show } from '../shows/schema';

/** The recordings of each run, as the relay last told them; the files lie there. */
export const recording = pgTable(
  'recording',
  {
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    runId: uuid('run_id').notNull(),
    kind: text({ enum: RECORDING_KINDS }).notNull(),
    status: text({ enum: RECORDING_STATES }).notNull(),
    /** Null until it is ready. */
    bytes: bigint({ mode: 'number' }),
    /** Null until it is ready. */
    lengthMs: bigint('length_ms', { mode: 'number' }),
    startedAtMs: instantMs('started_at').notNull(),
    /** Null: nobody has counted yet. */
    missing: jsonb().$type<Recording['missing']>(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.runId, t.kind] })],
);
