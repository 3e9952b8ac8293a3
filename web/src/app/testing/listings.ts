import type { Listing } from '@juncta/contract/listings';

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
  delayS: null,
  delayFrom: 'rule',
  viewers: null,
  ...change,
});
