import type { ProgrammeReport } from '@juncta/contract/relay';
import { and, eq, isNull, ne } from 'drizzle-orm';
import type { Queryable, Transaction } from '../database/connect';
import { keepFeeds } from '../feeds/store';
import { keepRecordings } from '../recordings/store';
import { programme, run } from './schema';

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
export async function keepReport(db: Transaction, report: ProgrammeReport, atMs: number): Promise<boolean> {
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
  await keepFeeds(db, report, atMs);
  await keepRecordings(db, report.showId, report.recordings);
  return true;
}

/** What of a report is a state and not a figure that changes by itself all the time. */
export function statesOf(report: ProgrammeReport): string {
  return JSON.stringify([
    report.state,
    report.deskId,
    report.inputId,
    report.inputs.map(({ figures: _, still: __, ...states }) => states),
    report.runId,
    report.delayMs,
    report.disk.recording,
    report.feeds.map(({ bitrateKbps: _, leftOutFrames: __, onAirMs: ___, still: ____, ...states }) => states),
    report.renditions.map(({ cores: _, ...states }) => states),
    report.recordings,
  ]);
}
