import type { RemoteEvent, Listing } from '@juncta/contract/listings';
import type { Show } from '@juncta/contract/shows';
import { slotAt } from '@juncta/core/schedule';
import type { App } from '../app';
import { atPlace, placeRefusal } from '../destinations/at-place';
import { connectorOf, type RemoteListing } from '../destinations/connectors';
import { notFound, Refusal } from '../http/errors';
import { change, draftFor } from './at-place';
import { keep } from './bookings';
import * as store from './store';

/** Events that somebody made over there, and listings that take them over. */

async function there(app: App, showId: string, destinationId: string) {
  const at = await store.findListing(app.db, showId, destinationId);
  if (!at) throw notFound('destination');
  const { booking } = connectorOf(at.destination.kind);
  if (!booking) throw new Refusal('not_ready', `${at.destination.name} has no events that could wait there.`);
  const events = await atPlace(app, at.destination, (target) => booking.list(target, app.ask)).catch(
    (error: unknown) => {
      throw placeRefusal(at.destination.name, error, 'its events are not known');
    },
  );
  const taken = await store.eventsTaken(app.db, destinationId);
  return { at, free: events.filter(({ eventRef }) => !taken.includes(eventRef)) };
}

/** The nearest to the listing's slot first; those without a slot last. */
export async function remoteEvents(app: App, show: Show, destinationId: string): Promise<RemoteEvent[]> {
  const { at, free } = await there(app, show.id, destinationId);
  const slotMs = slotAt(at.listing.slot, show.startsAtMs) ?? app.clock.now();
  const distance = ({ startsAtMs }: RemoteListing) =>
    startsAtMs === null ? Infinity : Math.abs(startsAtMs - slotMs);
  return free
    .sort((a, b) => distance(a) - distance(b))
    .map(({ eventRef, title, startsAtMs, pageUrl }) => ({ eventRef, title, startsAtMs, pageUrl }));
}

export async function adopt(app: App, show: Show, destinationId: string, eventRef: string): Promise<Listing> {
  const { at, free } = await there(app, show.id, destinationId);
  const { listingState } = at.listing;
  if (listingState !== 'draft' && listingState !== 'lapsed')
    throw new Refusal('not_ready', `It has an event at ${at.destination.name} already.`);
  const event = free.find((one) => one.eventRef === eventRef);
  if (!event) throw notFound('event');
  // Compared with what the plan would send: whatever differs is shown, and sent with the next press.
  const draft = await draftFor(app, show, at, slotAt(at.listing.slot, show.startsAtMs));
  await keep(app, at, draft, event);
  return change(app, show.id, destinationId, {});
}
