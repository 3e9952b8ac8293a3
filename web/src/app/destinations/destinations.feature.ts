import type { Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { createEntityAdapter, type EntityState } from '@ngrx/entity';
import { createFeature, createReducer, on } from '@ngrx/store';
import { TeamActions } from '../team/team.actions';
import { DestinationsActions } from './destinations.actions';

const adapter = createEntityAdapter<Destination>();

/** All destinations of the house, in the order in which they were added. */
export interface DestinationsState extends EntityState<Destination> {
  readonly isKnown: boolean;
  /** Why they could not be read. */
  readonly error: ErrorBody | null;
}

const initial: DestinationsState = adapter.getInitialState({ isKnown: false, error: null });

export const destinationsFeature = createFeature({
  name: 'destinations',
  reducer: createReducer(
    initial,
    on(DestinationsActions.wanted, (state) => ({ ...state, error: null })),
    on(DestinationsActions.known, (state, { destinations }) => ({
      ...adapter.setAll([...destinations], state),
      isKnown: true,
      error: null,
    })),
    on(DestinationsActions.failed, (state, { error }) => ({ ...state, error })),
    on(DestinationsActions.changed, (state, { destination }) => adapter.upsertOne(destination, state)),
    on(TeamActions.signedOut, () => initial),
  ),
  extraSelectors: ({ selectDestinationsState }) => adapter.getSelectors(selectDestinationsState),
});
