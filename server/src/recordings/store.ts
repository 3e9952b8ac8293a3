import type { Recording } from '@juncta/contract/recordings';
import { asc, eq } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { recording } from './schema';

/** Keeps what the relay tells of a show's recordings. One that it does not tell any more has no file any more. */
export async function keepRecordings(
  db: Queryable,
  showId: string,
  recordings: readonly Recording[],
): Promise<void> {
  await db.delete(recording).where(eq(recording.showId, showId));
  if (recordings.length > 0) await db.insert(recording).values(recordings.map((one) => ({ showId, ...one })));
}

/** In the order in which they were begun. */
export async function recordingsOf(db: Queryable, showId: string): Promise<Recording[]> {
  const rows = await db
    .select()
    .from(recording)
    .where(eq(recording.showId, showId))
    .orderBy(asc(recording.startedAtMs), asc(recording.runId), asc(recording.kind));
  return rows.map(({ showId: _, ...one }) => one);
}
