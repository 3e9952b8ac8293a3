import { learnDelay } from '@juncta/core/chat';
import { and, eq, gte, inArray, sql } from 'drizzle-orm';
import type { App } from '../../app';
import { viewerDelay } from '../../destinations/connectors';
import { change } from '../../listings/at-place';
import type { ListingAt } from '../../listings/store';
import { marksOf } from '../../marks/store';
import { chatMessage } from '../schema';

/** Looked for this often. */
const EVERY_MS = 15_000;
/** A delay that moved by less is the same. */
const MOVED_MS = 2000;
/** The latest say how it is now, and so many are enough. */
const MOST_MARKS = 20;

/**
 * Learns how far behind viewers are where no page says it, from how they wrote after moments that somebody marked, beside
 * a place where it is measured.
 */
export class LearnedDelays {
  private lookedAtMs = 0;

  constructor(private readonly app: App) {}

  /** @param open the listings whose chats are open */
  async look(open: readonly ListingAt[]): Promise<void> {
    const nowMs = this.app.securityClock.now();
    if (nowMs - this.lookedAtMs < EVERY_MS) return;
    this.lookedAtMs = nowMs;
    for (const showId of new Set(open.map(({ listing }) => listing.showId)))
      await this.learn(
        showId,
        open.filter(({ listing }) => listing.showId === showId),
      );
  }

  private async learn(showId: string, places: readonly ListingAt[]): Promise<void> {
    const known = places.map(({ listing, destination }) => ({
      listing,
      delay: viewerDelay(destination.kind, listing),
    }));
    const measured = known.filter(({ delay }) => delay.from === 'measured');
    const others = known.filter(({ delay }) => delay.from !== 'measured');
    const marks = (await marksOf(this.app.db, showId)).slice(-MOST_MARKS);
    if (measured.length === 0 || others.length === 0 || marks.length === 0) return;
    const times = await this.timesOf(
      showId,
      known.map(({ listing }) => listing.destinationId),
      marks[0]!.atMs,
    );
    const marksMs = marks.map(({ atMs }) => atMs);
    const beside = measured.map(({ listing, delay }) => ({
      delayMs: delay.ms,
      timesMs: times.get(listing.destinationId) ?? [],
    }));
    for (const { listing, delay } of others) {
      const delayMs = learnDelay(marksMs, beside, times.get(listing.destinationId) ?? []);
      if (delayMs === null || (delay.from === 'learned' && Math.abs(delayMs - delay.ms) < MOVED_MS)) continue;
      await change(this.app, showId, listing.destinationId, {
        viewerDelayMs: delayMs,
        viewerDelayFrom: 'learned',
      });
    }
  }

  private async timesOf(
    showId: string,
    destinationIds: string[],
    fromMs: number,
  ): Promise<Map<string, number[]>> {
    const rows = await this.app.db
      .select({ destinationId: chatMessage.destinationId, at: chatMessage.writtenAt })
      .from(chatMessage)
      .where(
        and(
          eq(chatMessage.showId, showId),
          inArray(chatMessage.destinationId, destinationIds),
          eq(chatMessage.owner, false),
          eq(chatMessage.kind, 'message'),
          gte(chatMessage.writtenAt, sql`${new Date(fromMs).toISOString()}::timestamptz`),
        ),
      )
      .limit(20_000);
    const times = new Map<string, number[]>();
    for (const { destinationId, at } of rows) {
      const known = times.get(destinationId);
      if (known) known.push(at);
      else times.set(destinationId, [at]);
    }
    return times;
  }
}
