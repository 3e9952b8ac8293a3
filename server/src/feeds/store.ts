import type { FeedEventNoted, FeedSample } from '@juncta/contract/feeds';
import type { FeedReport, ProgrammeReport } from '@juncta/contract/relay';
import { isUnderWay } from '@juncta/core/feeds';
import { and, asc, desc, eq } from 'drizzle-orm';
import type { Queryable, Transaction } from '../database/connect';
import { feed, feedEvent, feedSample } from './schema';

export async function wantFeed(
  db: Queryable,
  showId: string,
  destinationId: string,
  wanted: boolean,
): Promise<void> {
  await db
    .insert(feed)
    .values({ showId, destinationId, wanted, report: null, reportedAt: null })
    .onConflictDoUpdate({ target: [feed.showId, feed.destinationId], set: { wanted } });
}

export async function wantNoFeeds(db: Queryable, showId: string): Promise<void> {
  await db.transaction(async (tx) => {
    await lockFeeds(tx, showId);
    await tx.update(feed).set({ wanted: false }).where(eq(feed.showId, showId));
  });
}

/** All feeds of a show, always in the same order: two who change several of them would wait for one another. */
const lockFeeds = (tx: Transaction, showId: string) =>
  tx.select().from(feed).where(eq(feed.showId, showId)).orderBy(asc(feed.destinationId)).for('update');

export async function wantedFeeds(db: Queryable): Promise<{ showId: string; destinationId: string }[]> {
  return db
    .select({ showId: feed.showId, destinationId: feed.destinationId })
    .from(feed)
    .where(eq(feed.wanted, true));
}

/** Whether a feed to this destination is under way: for this show, or for any. */
export async function isSendingTo(db: Queryable, destinationId: string, showId?: string): Promise<boolean> {
  const rows = await db
    .select()
    .from(feed)
    .where(
      and(eq(feed.destinationId, destinationId), showId === undefined ? undefined : eq(feed.showId, showId)),
    );
  return rows.some(({ wanted, report }) => wanted && (report === null || isUnderWay(report.state)));
}

/** Notes what changed, and keeps what is reported of each feed. */
export async function keepFeeds(
  db: Transaction,
  { showId, feeds }: ProgrammeReport,
  atMs: number,
): Promise<void> {
  const kept = await lockFeeds(db, showId);
  await noteChanges(db, showId, feeds);
  for (const report of feeds) {
    const known = kept.find(({ destinationId }) => destinationId === report.destinationId)?.report;
    // A report that was on its way while somebody started the feed again still says how it ended before.
    const isNews = known?.state !== report.state || known.sinceMs !== report.sinceMs;
    // What ended there, or cannot work, is not taken up again by itself.
    const over = isNews && (report.state === 'failed' || report.state === 'ended');
    await db
      .update(feed)
      .set({ report, reportedAt: atMs, ...(over ? { wanted: false } : {}) })
      .where(and(eq(feed.showId, showId), eq(feed.destinationId, report.destinationId)));
  }
}

/** A line of the log for each feed whose state or reason is another than the last one noted. */
async function noteChanges(db: Queryable, showId: string, feeds: readonly FeedReport[]): Promise<void> {
  for (const { destinationId, state, reason, placeSays, sinceMs } of feeds) {
    const [last] = await db
      .select()
      .from(feedEvent)
      .where(and(eq(feedEvent.showId, showId), eq(feedEvent.destinationId, destinationId)))
      .orderBy(desc(feedEvent.id))
      .limit(1);
    if (last?.state === state && last.reason === reason && last.placeSays === placeSays) continue;
    // A reason that is added to a state has no time of its own.
    const atMs = last?.state === state ? Math.max(last.atMs, sinceMs) : sinceMs;
    await db.insert(feedEvent).values({ showId, destinationId, atMs, state, reason, placeSays });
  }
}

export async function addSamples(
  db: Queryable,
  samples: readonly (typeof feedSample.$inferInsert)[],
): Promise<void> {
  if (samples.length > 0)
    await db
      .insert(feedSample)
      .values([...samples])
      .onConflictDoNothing();
}

/** So many are told at once: hours at one every few seconds. */
const MOST_SAMPLES = 4000;

/** What became of one feed, oldest first. */
export async function historyOf(
  db: Queryable,
  showId: string,
  destinationId: string,
): Promise<{ log: FeedEventNoted[]; samples: FeedSample[] }> {
  const log = await db
    .select()
    .from(feedEvent)
    .where(and(eq(feedEvent.showId, showId), eq(feedEvent.destinationId, destinationId)))
    .orderBy(asc(feedEvent.id));
  const samples = await db
    .select()
    .from(feedSample)
    .where(and(eq(feedSample.showId, showId), eq(feedSample.destinationId, destinationId)))
    .orderBy(desc(feedSample.atMs))
    .limit(MOST_SAMPLES);
  return {
    log: log.map(({ atMs, state, reason, placeSays }) => ({
      atMs,
      state,
      reason: reason as FeedEventNoted['reason'],
      placeSays,
    })),
    samples: samples
      .reverse()
      .map(({ atMs, kbps, leftOutFrames, viewers }) => ({ atMs, kbps, leftOutFrames, viewers })),
  };
}
