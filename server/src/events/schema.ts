import { bigint, jsonb, pgTable, primaryKey, text } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';

/** The last number of each stream. Its row is the lock that keeps numbers without gaps. */
export const eventStream = pgTable('event_stream', {
  stream: text().primaryKey(),
  lastSeq: bigint('last_seq', { mode: 'number' }).notNull(),
});

export const event = pgTable(
  'event',
  {
    stream: text().notNull(),
    seq: bigint({ mode: 'number' }).notNull(),
    at: instantMs().notNull(),
    type: text().notNull(),
    payload: jsonb().notNull(),
  },
  (t) => [primaryKey({ columns: [t.stream, t.seq] })],
);
