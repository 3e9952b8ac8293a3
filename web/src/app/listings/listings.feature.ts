import type { Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import type { Listing } from '@juncta/contract/listings';
import { createEntityAdapter, type EntityState } from '@ngrx/entity';
import { createFeature, createReducer, createSelector, on } from '@ngrx/store';
import { TeamActions } from '../team/team.actions';
import { ListingsActions } from './listings.actions';

const ofDestinations = createEntityAdapter<Destination>();
const ofListings = createEntityAdapter<Listing>({ selectId: ({ destinationId }) => destinationId });

/** Where one show goes: the one that is looked at. */
export interface ListingsState {
  readonly showId: string | null;
  readonly status: 'unknown' | 'known' | 'failed';
  readonly error: ErrorBody | null;
  /** In the order in which the show has them. */
  readonly destinations: EntityState<Destination>;
  /** One for each destination. */
  readonly listings: EntityState<Listing>;
}

const initial: ListingsState = {
  showId: null,
  status: 'unknown',
  error: null,
  destinations: ofDestinations.getInitialState(),
  listings: ofListings.getInitialState(),
};

export const listingsFeature = createFeature({
  name: 'listings',
  reducer: createReducer(
    initial,
    on(ListingsActions.opened, (state, { showId }) =>
      state.showId === showId ? state : { ...initial, showId },
    ),
    on(ListingsActions.known, (state, { showId, view }): ListingsState =>
      state.showId === showId
        ? {
            ...state,
            status: 'known',
            error: null,
            destinations: ofDestinations.setAll([...view.destinations], state.destinations),
            listings: ofListings.setAll([...view.listings], state.listings),
          }
        : state,
    ),
    on(ListingsActions.failed, (state, { error }): ListingsState => ({
      ...state,
      error,
      status: state.status === 'known' ? 'known' : 'failed',
    })),
    on(ListingsActions.changed, (state, { showId, listing }) =>
      showId === state.showId
        ? {
            ...state,
            listings: ofListings.updateOne({ id: listing.destinationId, changes: listing }, state.listings),
          }
        : state,
    ),
    on(ListingsActions.viewersCounted, (state, { counted }) => ({
      ...state,
      listings: ofListings.map((listing) => {
        const found = counted.find(
          (one) => one.showId === state.showId && one.destinationId === listing.destinationId,
        );
        return { ...listing, viewers: found?.viewers ?? null };
      }, state.listings),
    })),
    on(TeamActions.signedOut, () => initial),
  ),
  extraSelectors: ({ selectDestinations, selectListings }) => ({
    selectDestinations: createSelector(selectDestinations, ofDestinations.getSelectors().selectAll),
    selectListings: createSelector(selectListings, ofListings.getSelectors().selectAll),
  }),
});
