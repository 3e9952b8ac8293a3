import type { Reactions as Told } from '@juncta/contract/chat';
import { streamOf } from '@juncta/contract/events';
import { reactionsSince, showTimeOf, sumOf, type ReactionCounts, type ReactionKind } from '@juncta/core/chat';
import { and, eq } from 'drizzle-orm';
import type { App } from '../../app';
import type { Queryable } from '../../database/connect';
import { appendEvent } from '../../events/store';
import type { Origin } from './origin';
import { chatReactions } from '../schema';

const MINUTE_MS = 60_000;
/** Everybody is told so often at most: hearts come by the dozen. */
const TELL_MS = 5000;

/** Counts what viewers press. Places tell totals, so that nothing is lost while a line is. */
export class Reactions {
  /** Of each show, what came lately. */
  private readonly lately = new Map<string, { atMs: number; count: number }[]>();
  private readonly untold = new Set<string>();
  private readonly toldAtMs = new Map<string, number>();

  constructor(private readonly app: App) {}

  async note({ showId, destinationId, delayMs }: Origin, totals: ReactionCounts): Promise<void> {
    const nowMs = this.app.securityClock.now();
    await this.app.db.transaction(async (tx) => {
      const here = and(eq(chatReactions.showId, showId), eq(chatReactions.destinationId, destinationId));
      const [row] = await tx.select().from(chatReactions).where(here).for('update');
      const since = reactionsSince(row?.totals ?? null, totals);
      const more = sumOf(since);
      if (row && more === 0) return;
      const showTimeMs = showTimeOf(
        this.app.relay?.reportOf(showId)?.showTimeMs ?? null,
        nowMs,
        nowMs,
        delayMs,
      );
      const minute = showTimeMs === null ? null : String(Math.floor(showTimeMs / MINUTE_MS));
      const minutes = row?.minutes ?? {};
      const values = {
        totals,
        counts: added(row?.counts ?? {}, since),
        minutes:
          minute === null || more === 0 ? minutes : { ...minutes, [minute]: (minutes[minute] ?? 0) + more },
      };
      if (row) await tx.update(chatReactions).set(values).where(here);
      else await tx.insert(chatReactions).values({ showId, destinationId, ...values });
      if (more === 0) return;
      this.lately.set(showId, [...(this.lately.get(showId) ?? []), { atMs: nowMs, count: more }]);
      this.untold.add(showId);
    });
  }

  /** To be called about once a second: tells what was counted since. */
  async tell(): Promise<void> {
    const nowMs = this.app.securityClock.now();
    for (const showId of this.untold) {
      if (nowMs - (this.toldAtMs.get(showId) ?? 0) < TELL_MS) continue;
      this.toldAtMs.set(showId, nowMs);
      this.untold.delete(showId);
      await this.app.db.transaction(async (tx) => {
        const reactions = await this.of(tx, showId);
        await appendEvent(tx, this.app.clock, streamOf('chat', showId), 'reactions.counted', {
          showId,
          reactions,
        });
      });
    }
  }

  async of(db: Queryable, showId: string): Promise<Told> {
    const rows = await db.select().from(chatReactions).where(eq(chatReactions.showId, showId));
    const fromMs = this.app.securityClock.now() - MINUTE_MS;
    const lately = (this.lately.get(showId) ?? []).filter(({ atMs }) => atMs > fromMs);
    if (this.lately.has(showId)) this.lately.set(showId, lately);
    return {
      counts: rows.reduce<ReactionCounts>((sum, { counts }) => added(sum, counts), {}),
      lastMinute: lately.reduce((sum, { count }) => sum + count, 0),
    };
  }

  forget(showId: string): void {
    this.lately.delete(showId);
    this.toldAtMs.delete(showId);
  }
}

function added(counts: ReactionCounts, more: ReactionCounts): ReactionCounts {
  const sum: Partial<Record<ReactionKind, number>> = { ...counts };
  for (const [kind, count] of Object.entries(more) as [ReactionKind, number][])
    sum[kind] = (sum[kind] ?? 0) + count;
  return sum;
}
