import type { FeedEventNoted, FeedSample } from '@juncta/contract/feeds';
import type { ProgrammeReport } from '@juncta/contract/relay';
import { isUnderWay } from '@juncta/core/feeds';
import { and, asc, desc, eq, isNull, ne } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { feed, feedEvent, feedSample, programme, run } from './schema';

export async function findOpenRun(
  db: Queryable,
  showId: string,
): Promise<typeof run.$inferSelect | undefined> {
  return (
    await db
      .select()
      .from(run)
      .where(and(eq(run.showId, showId), isNull(run.endedAt)))
  )[0];
}

export async function openRuns(db: Queryable): Promise<(typeof run.$inferSelect)[]> {
  return db.select().from(run).where(isNull(run.endedAt));
}

export async function addRun(
  db: Queryable,
  values: { id: string; showId: string; startedAt: number },
): Promise<void> {
  await db.insert(run).values({ ...values, endedAt: null });
}

export async function endRun(db: Queryable, showId: string, endedAt: number): Promise<boolean> {
  const ended = await db
    .update(run)
    .set({ endedAt })
    .where(and(eq(run.showId, showId), isNull(run.endedAt)))
    .returning();
  return ended.length > 0;
}

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
  await db.update(feed).set({ wanted: false }).where(eq(feed.showId, showId));
}

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

export async function lastReport(
  db: Queryable,
  showId: string,
): Promise<typeof programme.$inferSelect | undefined> {
  return (await db.select().from(programme).where(eq(programme.showId, showId)))[0];
}

/**
 * Keeps a report. True: a state in it is new, so that everybody has to be told. Of several servers that hear the same
 * report one gets true.
 */
export async function keepReport(db: Queryable, report: ProgrammeReport, atMs: number): Promise<boolean> {
  const states = statesOf(report);
  const values = { report, states, reportedAt: atMs };
  const changed = await db
    .insert(programme)
    .values({ showId: report.showId, ...values })
    .onConflictDoUpdate({
      target: programme.showId,
      set: values,
      setWhere: ne(programme.states, states),
    })
    .returning({ showId: programme.showId });
  if (changed.length === 0) return false;
  await noteChanges(db, report);
  for (const one of report.feeds) {
    // What ended there, or cannot work, is not taken up again by itself.
    const over = one.state === 'failed' || one.state === 'ended';
    await db
      .update(feed)
      .set({ report: one, reportedAt: atMs, ...(over ? { wanted: false } : {}) })
      .where(and(eq(feed.showId, report.showId), eq(feed.destinationId, one.destinationId)));
  }
  return true;
}

/** What of a report is a state and not a figure that changes by itself all the time. */
export function statesOf(report: ProgrammeReport): string {
  return JSON.stringify([
    report.state,
    report.deskId,
    report.runId,
    report.delayMs,
    report.disk.recording,
    report.feeds.map(({ bitrateKbps: _, leftOutPictures: __, onAirMs: ___, ...states }) => states),
    report.recordings,
  ]);
}

/** A line of the log for each feed whose state or reason is another than the last one noted. */
async function noteChanges(db: Queryable, report: ProgrammeReport): Promise<void> {
  for (const { destinationId, state, reason, placeSays, sinceMs } of report.feeds) {
    const [last] = await db
      .select()
      .from(feedEvent)
      .where(and(eq(feedEvent.showId, report.showId), eq(feedEvent.destinationId, destinationId)))
      .orderBy(desc(feedEvent.id))
      .limit(1);
    if (last?.state === state && last.reason === reason && last.placeSays === placeSays) continue;
    // A reason that is added to a state has no time of its own.
    const atMs = last?.state === state ? Math.max(last.atMs, sinceMs) : sinceMs;
    await db
      .insert(feedEvent)
      .values({ showId: report.showId, destinationId, atMs, state, reason, placeSays });
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
      .map(({ atMs, kbps, leftOutPictures, viewers }) => ({ atMs, kbps, leftOutPictures, viewers })),
  };
}
