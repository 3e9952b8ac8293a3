import type { Clock } from '@juncta/core/clock';
import {
  EVENTS_KEPT,
  EVENTS_KEPT_MS,
  type EventType,
  type StreamEvent,
  type StreamName,
  type TopicEvents,
  type TopicOf,
} from '@juncta/contract/events';
import { and, asc, eq, gt, lt, lte, min, sql } from 'drizzle-orm';
import type { Queryable, Transaction } from '../database/connect';
import { event, eventStream } from './schema';

/** Servers listen on this channel of PostgreSQL; the message is the stream's name. */
export const EVENTS_CHANNEL = 'juncta_events';
/** The most that is read at once. */
export const BATCH_SIZE = 200;

/**
 * Writes an event with the next number of its stream, in the transaction of the change it tells of: either both
 * are there or neither. Listening servers hear of it when the transaction is committed.
 */
export async function appendEvent<S extends StreamName, K extends EventType<TopicOf<S>>>(
  tx: Transaction,
  clock: Clock,
  stream: S,
  type: K,
  payload: TopicEvents[TopicOf<S>][K],
): Promise<number> {
  const [row] = await tx
    .insert(eventStream)
    .values({ stream, lastSeq: 1 })
    .onConflictDoUpdate({ target: eventStream.stream, set: { lastSeq: sql`${eventStream.lastSeq} + 1` } })
    .returning({ seq: eventStream.lastSeq });
  const seq = row!.seq;
  await tx.insert(event).values({ stream, seq, at: clock.now(), type, payload });
  await tx.execute(sql`select pg_notify(${EVENTS_CHANNEL}, ${stream})`);
  return seq;
}

/** The last number of a stream; 0 before its first event. */
export async function lastSeq(db: Queryable, stream: StreamName): Promise<number> {
  const [row] = await db.select().from(eventStream).where(eq(eventStream.stream, stream));
  return row?.lastSeq ?? 0;
}

/** The events after a number, in order, at most {@link BATCH_SIZE}. */
export async function eventsAfter(db: Queryable, stream: StreamName, after: number): Promise<StreamEvent[]> {
  const rows = await db
    .select()
    .from(event)
    .where(and(eq(event.stream, stream), gt(event.seq, after)))
    .orderBy(asc(event.seq))
    .limit(BATCH_SIZE);
  return rows.map(({ at, ...row }) => ({ ...row, atMs: at }) as unknown as StreamEvent);
}

/** Whether everything after this number is still kept. */
export async function isKept(db: Queryable, stream: StreamName, after: number): Promise<boolean> {
  if (after > (await lastSeq(db, stream))) return false;
  const [row] = await db
    .select({ first: min(event.seq) })
    .from(event)
    .where(eq(event.stream, stream));
  return row?.first == null ? after === (await lastSeq(db, stream)) : after >= row.first - 1;
}

/** Drops what is older than the last {@link EVENTS_KEPT} of each stream, and what is old by the clock. */
export async function sweepEvents(db: Queryable, clock: Clock): Promise<void> {
  await db.delete(event).where(lt(event.at, clock.now() - EVENTS_KEPT_MS));
  for (const { stream, lastSeq: last } of await db.select().from(eventStream)) {
    await db.delete(event).where(and(eq(event.stream, stream), lte(event.seq, last - EVENTS_KEPT)));
  }
}
