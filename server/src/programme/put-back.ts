import { putBackShow } from '@juncta/contract/programme';
import { canBePutBack } from '@juncta/core/shows';
import type { Router } from 'express';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { appendEvent } from '../events/store';
import { Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { tellListing } from '../listings/at-place';
import { changeListing, listingsAt } from '../listings/store';
import { findShow, lockShow, setProgrammeTimes } from '../shows/store';
import { findOpenRun } from './store';

/** What a listing knows of an event that is over, or was never carried out. */
const AS_PLANNED: Parameters<typeof changeListing>[3] = {
  listingState: 'draft',
  eventRef: null,
  pageUrl: null,
  embedUrl: null,
  bookedSlot: null,
  bookingDue: null,
  sent: null,
  sentPicture: null,
  differs: [],
  problem: null,
  mostViewers: null,
  viewerDelayMs: null,
  viewerDelayFrom: null,
  chatOpen: false,
  chatOpenedAt: null,
  chatCursor: null,
};

/** A show that was started by mistake is planned again. What is booked stays; what is over is to be booked anew. */
export function mountPutBack(router: Router, app: App): void {
  mount(router, app, putBackShow, async ({ params: { showId } }) =>
    app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      const show = (await findShow(tx, showId))!;
      if (await findOpenRun(tx, showId))
        throw new Refusal('not_ready', 'This show is on air. End it before it is put back to planned.');
      // Said twice, it is done once.
      if (show.startedAtMs === null) return show;
      if (!canBePutBack(show, app.clock.now()))
        throw new Refusal(
          'not_ready',
          'It ended more than a day ago, and what it left would be lost. Make the next show from it instead.',
        );
      await putListingsBack(app, tx, showId);
      await setProgrammeTimes(tx, showId, { startedAt: null, endedAt: null });
      const planned = (await findShow(tx, showId))!;
      await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: planned });
      return planned;
    }),
  );
}

async function putListingsBack(app: App, tx: Transaction, showId: string): Promise<void> {
  const all = await listingsAt(tx, showId);
  const ending = all.filter(({ listing }) => listing.listingState === 'ending');
  if (ending.length > 0) {
    const places = ending.map(({ destination }) => destination.name).join(', ');
    throw new Refusal(
      'not_ready',
      `Its event is still being ended at ${places}. The show can be put back to planned after that.`,
    );
  }
  for (const { listing } of all) {
    if (listing.listingState !== 'closed') continue;
    const { destinationId } = listing;
    await changeListing(tx, showId, destinationId, AS_PLANNED);
    await tellListing(app, tx, showId, destinationId);
  }
}
