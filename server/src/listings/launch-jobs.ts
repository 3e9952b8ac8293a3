import { and, eq, isNull, lte, sql } from 'drizzle-orm';
import type { App } from '../app';
import { isDatabaseAway } from '../database/connect';
import { findShow } from '../shows/store';
import { bookOne, lookOne } from './bookings';
import { launchJob } from './schema';
import { findListing } from './store';

/**
 * What the machine does for launch sheets when its time has come. The times are those of the house's clock, which a
 * rehearsal moves: that is why no job queue of the database's own clock does it (decision 12). Everything is safe to
 * repeat: a server that is killed in the middle of one does it once more.
 */
type Job = typeof launchJob.$inferSelect;

const LOOK_EVERY_MS = 1000;
/** What failed is tried again after this long, doubled each time, and given up after so many. */
const AGAIN_AFTER_MS = 10_000;
const MOST_TRIES = 6;

export class LaunchJobs {
  private timer: NodeJS.Timeout | undefined;
  private stopped = false;

  constructor(private readonly app: App) {}

  start(): void {
    this.timer = setTimeout(() => void this.run(), LOOK_EVERY_MS);
  }

  stop(): void {
    this.stopped = true;
    clearTimeout(this.timer);
  }

  /** Does what is due. Also called by specs. */
  async run(): Promise<void> {
    try {
      for (let job = await this.take(); job; job = await this.take())
        await this.finish(job, await this.do(job));
    } catch (error) {
      if (!isDatabaseAway(error)) this.app.log.error({ err: error }, 'the jobs of the launch sheets failed');
    }
    if (!this.stopped) this.start();
  }

  /** The next that is due. Taken for a while: whoever takes it and dies leaves it to the next look. */
  private async take(): Promise<Job | undefined> {
    const nowMs = this.app.clock.now();
    return this.app.db.transaction(async (tx) => {
      const [job] = await tx
        .select()
        .from(launchJob)
        .where(
          and(isNull(launchJob.doneAt), lte(launchJob.dueAt, nowMs), sql`${launchJob.tries} < ${MOST_TRIES}`),
        )
        .orderBy(launchJob.dueAt)
        .limit(1)
        .for('update', { skipLocked: true });
      if (!job) return undefined;
      const next = { tries: job.tries + 1, dueAt: nowMs + AGAIN_AFTER_MS * 2 ** job.tries };
      await tx.update(launchJob).set(next).where(named(job));
      return job;
    });
  }

  /** Whether it is done: otherwise it comes again. */
  private async do(job: Job): Promise<boolean> {
    const at = await findListing(this.app.db, job.showId, job.destinationId);
    const show = await findShow(this.app.db, job.showId);
    if (!at || show?.endedAtMs !== null || show.archivedAtMs !== null) return true;
    this.app.log.info({ job: job.job, show: job.showId, destination: job.destinationId }, 'a job is due');
    if (job.job === 'book') return (await bookOne(this.app, show, at, false)).done;
    const { done } = await lookOne(this.app, at);
    if (job.job !== 'lapse_look' || !done) return done;
    // A place that still tells what it told before is looked at again: thrown away it is all the same.
    const now = await findListing(this.app.db, job.showId, job.destinationId);
    return now?.listing.listingState !== 'booked';
  }

  private async finish(job: Job, done: boolean): Promise<void> {
    if (done) await this.app.db.update(launchJob).set({ doneAt: this.app.clock.now() }).where(named(job));
  }
}

const named = ({ showId, destinationId, job }: Job) =>
  and(eq(launchJob.showId, showId), eq(launchJob.destinationId, destinationId), eq(launchJob.job, job));
