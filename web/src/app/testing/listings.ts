import type { Listing, ListingsView } from '@juncta/contract/listings';
import type { Store } from '@ngrx/store';
import { ListingsActions } from '../listings/listings.actions';
import { tower } from './destinations';

/** A listing at which nothing has happened yet, for specs. */
export const draftListing = (change: Partial<Listing> = {}): Listing => ({
  destinationId: 'd',
  title: null,
  description: null,
  slot: { kind: 'with_show' },
  settings: {},
  picture: null,
  crop: null,
  state: 'draft',
  bookedSlotMs: null,
  bookingDueMs: null,
  differs: [],
  problem: null,
  pageUrl: null,
  embedUrl: null,
  delayS: null,
  delayFrom: 'rule',
  viewers: null,
  ...change,
});

export const listingsView = (change: Partial<ListingsView> = {}): ListingsView => ({
  destinations: [tower()],
  listings: [draftListing()],
  seqs: { listings: 1, destinations: 1 },
  ...change,
});

/** Somebody looks at where this show goes, and that is known. */
export function lookAtListings(store: Store, showId: string, change: Partial<ListingsView> = {}): void {
  store.dispatch(ListingsActions.opened({ showId }));
  store.dispatch(ListingsActions.known({ showId, view: listingsView(change) }));
}
