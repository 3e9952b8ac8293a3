import type { Listing } from '@juncta/contract/listings';
import type { Show } from '@juncta/contract/shows';
import { streamOf } from '@juncta/contract/events';
import { inheritedSettings, overLength, present, settingsToSend } from '@juncta/core/listings';
import type { App } from '../app';
import type { Queryable, Transaction } from '../database/connect';
import { PlaceRefused } from '../destinations/ask-place';
import { atPlace, placeRefusal } from '../destinations/at-place';
import {
  connectorOf,
  type IngestPoint,
  type ListingDraft,
  type PublicStatus,
} from '../destinations/connectors';
import type { DestinationRow } from '../destinations/store';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { findShow } from '../shows/store';
import { defaultsFor, factsOf } from './house-defaults';
import * as store from './store';

/** What is done with listings at their places. All of it may be repeated. */

async function found(db: Queryable, showId: string, destinationId: string) {
  const row = await store.findListing(db, showId, destinationId);
  if (!row) throw notFound('destination');
  return row;
}

/** What its place is to present, as the plan has it now. */
export async function draftFor(
  app: App,
  show: Show,
  { listing, destination }: store.ListingAt,
  startsAtMs: number | null,
): Promise<ListingDraft> {
  const rules = app.rules.of(destination.kind);
  const facts = await factsOf(app, show);
  const { title, description } = present(facts, show.text, listing);
  const settings = settingsToSend(
    rules.capabilities.settings,
    listing.settings,
    inheritedSettings(show.shared, await defaultsFor(app.db, show.text.seriesId)),
    listing.sent?.settings ?? {},
  );
  const reference = `${listing.showId} ${listing.destinationId}`;
  const text = rules.capabilities.description === null ? '' : description;
  return { title, description: text, startsAtMs, settings, reference, eventRef: listing.eventRef };
}

/** Why a text cannot be sent; null: it can. What would be cut or refused is never tried. */
export function textProblem(app: App, draft: ListingDraft, { name, kind }: DestinationRow): string | null {
  const { title, description } = app.rules.of(kind).capabilities;
  for (const [what, text, rule] of [
    ['title', draft.title, title],
    ['description', draft.description, description],
  ] as const) {
    const over = overLength(text, rule);
    if (over > 0) return `The ${what} is ${over} too long for ${name}.`;
  }
  return null;
}

/** Makes the listing at its place, or brings it up to date, and says where its feed goes. */
export async function openListing(
  app: App,
  showId: string,
  destinationId: string,
): Promise<IngestPoint & { arrival: 'public' | 'held' }> {
  const at = await found(app.db, showId, destinationId);
  const { listing, destination } = at;
  const show = await findShow(app.db, showId);
  if (!show) throw notFound('show');
  const connector = connectorOf(destination.kind);
  // A slot that is booked stays; without one the event begins with its feed.
  const draft = await draftFor(app, show, at, listing.bookedSlot);
  const problem = textProblem(app, draft, destination);
  if (problem !== null)
    throw new Refusal(
      'not_ready',
      `${problem.slice(0, -1)}, so the feed was not started. Give it a shorter one in the plan.`,
    );
  const opened = await atPlace(app, destination, (target) => connector.open(target, draft, app.ask)).catch(
    (error: unknown) => {
      throw placeRefusal(destination.name, error, 'the feed was not started');
    },
  );
  const isNew = opened.eventRef !== listing.eventRef;
  const { title, description, startsAtMs, settings } = draft;
  await change(app, showId, destinationId, {
    listingState: 'open',
    eventRef: opened.eventRef,
    pageUrl: opened.pageUrl,
    embedUrl: opened.embedUrl,
    sent: { title, description, startsAtMs, settings },
    chatOpen: connector.chat !== null,
    // Another event has another chat.
    ...(isNew ? { chatCursor: null } : {}),
    ...(isNew || !listing.chatOpen ? { chatOpenedAt: app.securityClock.now() } : {}),
  });
  return { ...opened.ingest, arrival: connector.arrival };
}

/** Makes public what is held there. */
export async function publishListing(app: App, showId: string, destinationId: string): Promise<void> {
  const { listing, destination } = await found(app.db, showId, destinationId);
  const { publish } = connectorOf(destination.kind);
  if (!publish) return;
  await atPlace(app, destination, (target) => publish(target, listing.eventRef, app.ask)).catch(
    (error: unknown) => {
      throw placeRefusal(destination.name, error, 'it is not public yet');
    },
  );
}

/** Looks at the place from outside; null: nobody can. */
export async function lookAtListing(
  app: App,
  showId: string,
  destinationId: string,
): Promise<PublicStatus | null> {
  const row = await store.findListing(app.db, showId, destinationId);
  const look = row && connectorOf(row.destination.kind).look;
  if (!look) return null;
  return atPlace(app, row.destination, (target) => look(target, row.listing.eventRef, app.ask));
}

/**
 * Its feed has ended: the event is to end too, where that takes a word of ours. {@link endListings} says it, again and
 * again where a place does not answer: nobody waits for that here.
 */
export async function endListing(app: App, showId: string, destinationId: string): Promise<void> {
  const row = await store.findListing(app.db, showId, destinationId);
  if (row?.listing.listingState !== 'open') return;
  const { end } = connectorOf(row.destination.kind);
  await change(app, showId, destinationId, { listingState: end ? 'ending' : 'closed' });
}

/** Tries once more at every place that has not yet heard that its event is over. */
export async function endListings(app: App): Promise<void> {
  const ending = await store.listingsIn(app.db, 'ending');
  await Promise.all(ending.map(({ showId, destinationId }) => tryToEnd(app, showId, destinationId)));
}

async function tryToEnd(app: App, showId: string, destinationId: string): Promise<void> {
  const row = await store.findListing(app.db, showId, destinationId);
  const end = row && connectorOf(row.destination.kind).end;
  if (!end) return;
  try {
    await atPlace(app, row.destination, (target) => end(target, row.listing.eventRef, app.ask));
  } catch (error) {
    // An event that is gone over there is over.
    if (!(error instanceof PlaceRefused) || error.status !== 404) {
      app.log.info({ err: error, destination: destinationId }, 'a place does not end its event yet');
      return;
    }
  }
  await change(app, showId, destinationId, { listingState: 'closed' });
}

/** Changes what is known of a listing, and tells everybody; gives it as it is then. */
export async function change(
  app: App,
  showId: string,
  destinationId: string,
  values: Parameters<typeof store.changeListing>[3],
): Promise<Listing> {
  return app.db.transaction(async (tx) => {
    if (Object.keys(values).length > 0) await store.changeListing(tx, showId, destinationId, values);
    return tellListing(app, tx, showId, destinationId);
  });
}

/** Tells everybody of a listing as it is now, and gives it. */
export async function tellListing(
  app: App,
  db: Transaction,
  showId: string,
  destinationId: string,
): Promise<Listing> {
  const at = await store.findListing(db, showId, destinationId);
  if (!at) throw notFound('destination');
  const viewers = app.relay?.viewersAt(showId, destinationId) ?? null;
  const listing = store.describeListing(at.listing, at.destination.kind, viewers);
  await appendEvent(db, app.clock, streamOf('listings', showId), 'listing.changed', { showId, listing });
  await appendEvent(db, app.clock, 'destinations', 'listings.changed', { showId });
  return listing;
}
