import { TeamActions } from '../team/team.actions';
import { tower } from '../testing/destinations';
import { draftListing, listingsView } from '../testing/listings';
import { ListingsActions } from './listings.actions';
import { listingsFeature } from './listings.feature';

describe('where a show goes, in the store', () => {
  const { reducer } = listingsFeature;
  const state = (listings: ReturnType<typeof reducer>) => ({ listings });
  const opened = reducer(undefined, ListingsActions.opened({ showId: 's' }));
  const view = listingsView({
    destinations: ['b', 'a'].map((id) => tower({ id })),
    listings: ['b', 'a'].map((destinationId) => draftListing({ destinationId })),
  });
  const known = reducer(opened, ListingsActions.known({ showId: 's', view }));

  it('keeps the order of the show', () => {
    expect(listingsFeature.selectDestinations(state(known)).map(({ id }) => id)).toEqual(['b', 'a']);
    expect(listingsFeature.selectListings(state(known)).map(({ destinationId }) => destinationId)).toEqual([
      'b',
      'a',
    ]);
  });

  it('takes changes of the show that is looked at, and of no other', () => {
    const listing = draftListing({ destinationId: 'a', state: 'booked' });
    const changed = reducer(known, ListingsActions.changed({ showId: 's', listing }));
    expect(listingsFeature.selectListings(state(changed)).map((one) => one.state)).toEqual([
      'draft',
      'booked',
    ]);
    expect(reducer(known, ListingsActions.changed({ showId: 'other', listing }))).toBe(known);
    expect(reducer(known, ListingsActions.known({ showId: 'other', view }))).toBe(known);
  });

  it('counts viewers anew each time: a place that says nothing has none', () => {
    const counted = [{ showId: 's', destinationId: 'a', viewers: 7 }];
    const seen = reducer(known, ListingsActions.viewersCounted({ counted }));
    expect(listingsFeature.selectListings(state(seen)).map(({ viewers }) => viewers)).toEqual([null, 7]);
    const later = reducer(seen, ListingsActions.viewersCounted({ counted: [] }));
    expect(listingsFeature.selectListings(state(later)).map(({ viewers }) => viewers)).toEqual([null, null]);
  });

  it('begins afresh with another show, stays with the same, and keeps what it knows when a reading fails', () => {
    expect(reducer(known, ListingsActions.opened({ showId: 's' }))).toBe(known);
    const other = reducer(known, ListingsActions.opened({ showId: 'other' }));
    expect([other.status, other.destinations.ids.length]).toEqual(['unknown', 0]);
    const error = { code: 'database_away', sentence: 'Away.' } as const;
    expect(reducer(known, ListingsActions.failed({ error })).status).toBe('known');
    expect(reducer(opened, ListingsActions.failed({ error })).status).toBe('failed');
    expect(reducer(known, TeamActions.signedOut({ unasked: true })).showId).toBeNull();
  });
});
