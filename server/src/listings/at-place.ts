import { overLength } from '@juncta/core/listings';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { PlaceAway, PlaceRefused } from '../destinations/ask-place';
import { connectorOf, type IngestPoint, type Looked, type Target } from '../destinations/connectors';
import type { DestinationRow } from '../destinations/store';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { findShow } from '../shows/store';
import * as store from './store';

/** What is done with listings at their places. All of it may be repeated. */

export function targetOf(app: App, row: DestinationRow): Target {
  return { id: row.id, address: row.address, secret: app.secrets.unlock(row.secret!, row.id) };
}

async function found(db: Queryable, showId: string, destinationId: string) {
  const row = await store.findListing(db, showId, destinationId);
  if (!row) throw notFound('destination');
  return row;
}

/** Makes the listing at its place, or brings it up to date, and says where its feed goes. */
export async function openListing(
  app: App,
  showId: string,
  destinationId: string,
): Promise<IngestPoint & { arrival: 'public' | 'held' }> {
  const { listing, destination } = await found(app.db, showId, destinationId);
  const show = await findShow(app.db, showId);
  if (!show) throw notFound('show');
  const connector = connectorOf(destination.kind);
  const title = listing.title ?? show.text.title;
  const over = overLength(title, connector.rules.capabilities.title);
  if (over > 0) {
    throw new Refusal(
      'not_ready',
      `The title is ${over} too long for ${destination.name}, so the feed was not started. Give it a shorter one in the plan.`,
    );
  }
  const opened = await connector
    .open(targetOf(app, destination), { title, eventRef: listing.eventRef }, app.ask)
    .catch((error: unknown) => {
      throw placeRefusal(destination.name, error, 'the feed was not started');
    });
  const isNew = opened.eventRef !== listing.eventRef;
  await change(app, showId, destinationId, {
    listingState: 'open',
    eventRef: opened.eventRef,
    pageUrl: opened.pageUrl,
    chatOpen: connector.chat !== null,
    // Another event has another chat.
    ...(isNew ? { chatCursor: null } : {}),
  });
  return { ...opened.ingest, arrival: connector.arrival };
}

/** Makes public what is held there. */
export async function publishListing(app: App, showId: string, destinationId: string): Promise<void> {
  const { listing, destination } = await found(app.db, showId, destinationId);
  const { publish } = connectorOf(destination.kind);
  if (!publish) return;
  await publish(targetOf(app, destination), listing.eventRef, app.ask).catch((error: unknown) => {
    throw placeRefusal(destination.name, error, 'it is not public yet');
  });
}

/** Looks at the place from outside; null: nobody can. */
export async function lookAtListing(app: App, showId: string, destinationId: string): Promise<Looked | null> {
  const row = await store.findListing(app.db, showId, destinationId);
  const look = row && connectorOf(row.destination.kind).look;
  return look ? look(targetOf(app, row.destination), row.listing.eventRef, app.ask) : null;
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
    await end(targetOf(app, row.destination), row.listing.eventRef, app.ask);
  } catch (error) {
    // An event that is gone over there is over.
    if (!(error instanceof PlaceRefused) || error.status !== 404) {
      app.log.info({ err: error, destination: destinationId }, 'a place does not end its event yet');
      return;
    }
  }
  await change(app, showId, destinationId, { listingState: 'closed' });
}

async function change(
  app: App,
  showId: string,
  destinationId: string,
  values: Parameters<typeof store.changeListing>[3],
): Promise<void> {
  await app.db.transaction(async (tx) => {
    const row = await store.changeListing(tx, showId, destinationId, values);
    if (!row) return;
    const listing = store.describeListing(row, app.relay?.viewersAt(showId, destinationId) ?? null);
    await appendEvent(tx, app.clock, 'relay', 'listing.changed', { showId, listing });
  });
}

/** @param so what did not happen, for the sentence */
export function placeRefusal(name: string, error: unknown, so: string): unknown {
  if (error instanceof PlaceAway) {
    return new Refusal(
      'place_away',
      `${name} does not answer just now, so ${so}. Try again in a few seconds.`,
    );
  }
  if (error instanceof PlaceRefused) {
    const authorised = error.status === 401 || error.status === 400;
    return new Refusal(
      'place_away',
      authorised
        ? `${name} no longer accepts our authorisation, so ${so}. A producer has to connect it again.`
        : `${name} said no, so ${so}: ${error.message}.`,
    );
  }
  return error;
}
