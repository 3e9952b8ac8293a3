import type { Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import type { Listing } from '@juncta/contract/listings';
import type { Mark } from '@juncta/contract/marks';
import type { Composing } from '@juncta/contract/programme';
import type { ProgrammeReport } from '@juncta/contract/relay';
import { createFeature, createReducer, on } from '@ngrx/store';
import { TeamActions } from '../team/team.actions';
import { RelayActions } from './relay.actions';

/** One show at a time: the one that is looked at. */
export interface RelayState {
  readonly showId: string | null;
  readonly status: 'unknown' | 'known' | 'failed';
  readonly programme: ProgrammeReport | null;
  readonly destinations: readonly Destination[];
  readonly listings: readonly Listing[];
  /** In the order of the show. */
  readonly marks: readonly Mark[];
  readonly composing: Composing | null;
  /** An order is under way. */
  readonly busy: boolean;
  /** Nobody took that order yet; it is given again and again. */
  readonly insisting: boolean;
  /** What was refused last, until the next order. */
  readonly error: ErrorBody | null;
}

const initial: RelayState = {
  showId: null,
  status: 'unknown',
  programme: null,
  destinations: [],
  listings: [],
  marks: [],
  composing: null,
  busy: false,
  insisting: false,
  error: null,
};

const take = (state: RelayState, programme: ProgrammeReport): RelayState =>
  programme.showId === state.showId ? { ...state, programme } : state;

export const relayFeature = createFeature({
  name: 'relay',
  reducer: createReducer(
    initial,
    on(RelayActions.opened, (state, { showId }) =>
      state.showId === showId ? state : { ...initial, showId },
    ),
    on(RelayActions.known, (state, { showId, view }): RelayState =>
      state.showId === showId
        ? { ...state, ...view, programme: view.programme ?? state.programme, status: 'known' }
        : state,
    ),
    on(RelayActions.failed, (state, { error }): RelayState => ({
      ...state,
      error,
      status: state.status === 'known' ? 'known' : 'failed',
    })),
    on(RelayActions.programmeChanged, (state, { programme }) => take(state, programme)),
    on(RelayActions.figures, (state, { programmes }) => programmes.reduce(take, state)),
    on(RelayActions.composingChanged, (state, { showId, composing }) =>
      showId === state.showId ? { ...state, composing } : state,
    ),
    on(RelayActions.listingChanged, (state, { showId, listing }) =>
      showId === state.showId
        ? {
            ...state,
            listings: state.listings.map((one) =>
              one.destinationId === listing.destinationId ? listing : one,
            ),
          }
        : state,
    ),
    on(RelayActions.marksChanged, (state, { showId, marks }) =>
      showId === state.showId ? { ...state, marks } : state,
    ),
    on(RelayActions.viewersCounted, (state, { counted }) => ({
      ...state,
      listings: state.listings.map((listing) => {
        const found = counted.find(
          (one) => one.showId === state.showId && one.destinationId === listing.destinationId,
        );
        return { ...listing, viewers: found?.viewers ?? null };
      }),
    })),
    on(
      RelayActions.startFeed,
      RelayActions.publishFeed,
      RelayActions.stopFeed,
      RelayActions.endShow,
      RelayActions.cover,
      (state): RelayState => ({
        ...state,
        busy: true,
        error: null,
      }),
    ),
    on(RelayActions.notTakenYet, (state): RelayState => ({ ...state, insisting: state.busy })),
    on(RelayActions.done, (state, { programme }) => ({
      ...take(state, programme),
      busy: false,
      insisting: false,
    })),
    on(RelayActions.refused, (state, { error }): RelayState => ({
      ...state,
      busy: false,
      insisting: false,
      error,
    })),
    on(TeamActions.signedOut, () => initial),
  ),
});
