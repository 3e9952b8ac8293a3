import { and, eq } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { launchJob } from './schema';

type Job = typeof launchJob.$inferSelect;

/** Wants a job done at a time; asked for again, the time is the new one. */
export async function wantJob(
  db: Queryable,
  job: Pick<Job, 'showId' | 'destinationId' | 'job' | 'dueAt'>,
): Promise<void> {
  await db
    .insert(launchJob)
    .values(job)
    .onConflictDoUpdate({
      target: [launchJob.showId, launchJob.destinationId, launchJob.job],
      set: { dueAt: job.dueAt, tries: 0, doneAt: null },
    });
}

export async function dropJobs(db: Queryable, showId: string, destinationId: string): Promise<void> {
  await db
    .delete(launchJob)
    .where(and(eq(launchJob.showId, showId), eq(launchJob.destinationId, destinationId)));
}
