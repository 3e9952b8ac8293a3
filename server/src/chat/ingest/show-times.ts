import { streamOf } from '@juncta/contract/events';
import { and, eq, sql } from 'drizzle-orm';
import type { App } from '../../app';
import { viewerDelay, viewerDelayMs } from '../../destinations/connectors';
import { appendEvent } from '../../events/store';
import type { ListingAt } from '../../listings/store';
import { chatMessage } from '../schema';

/**
 * What was written before anybody knew how far behind its viewers are was given a moment of the show by the house rule.
 * Once it is known those moments are put right, and told. What was written before the first picture reached them by the
 * rule stays without one.
 *
 * @param open the listings whose chats are open
 */
export async function rightShowTimes(app: App, open: readonly ListingAt[]): Promise<void> {
  for (const { listing, destination } of open) {
    const known = viewerDelay(destination.kind, listing);
    if (known.from === 'rule') continue;
    const { showId, destinationId } = listing;
    const byMs = viewerDelayMs(destination.kind, listing.sent?.settings) - known.ms;
    await app.db.transaction(async (tx) => {
      const righted = await tx
        .update(chatMessage)
        .set({
          showTimeMs: sql`case when ${chatMessage.showTimeMs} + ${byMs} >= 0 then ${chatMessage.showTimeMs} + ${byMs} end`,
          showTimeAbout: false,
        })
        .where(
          and(
            eq(chatMessage.showId, showId),
            eq(chatMessage.destinationId, destinationId),
            eq(chatMessage.showTimeAbout, true),
          ),
        );
      if (righted.rowCount)
        await appendEvent(tx, app.clock, streamOf('chat', showId), 'times.righted', {
          showId,
          destinationId,
          byMs,
        });
    });
  }
}
