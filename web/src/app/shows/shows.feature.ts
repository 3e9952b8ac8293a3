import type { ErrorBody } from '@juncta/contract/errors';
import type { Series, Show } from '@juncta/contract/shows';
import { createEntityAdapter, type EntityState } from '@ngrx/entity';
import { createFeature, createReducer, createSelector, on } from '@ngrx/store';
import { ShowsActions } from './shows.actions';
import { TeamActions } from '../team/team.actions';
import { plannedOf } from './planned';

/** The save that is under way, or went wrong. One form is open at a time. */
export interface Saving {
  readonly id: string;
  readonly status: 'saving' | 'done' | 'refused';
  readonly error: ErrorBody | null;
}

export interface ShowsState extends EntityState<Show> {
  readonly status: 'unknown' | 'known' | 'failed';
  readonly error: ErrorBody | null;
  readonly series: readonly Series[];
  readonly saving: Saving | null;
}

const adapter = createEntityAdapter<Show>();

const initial: ShowsState = adapter.getInitialState({
  status: 'unknown',
  error: null,
  series: [],
  saving: null,
});

/** Puts a show in, unless what is there is newer: the answer to a save and its event come in either order. */
function put(show: Show, state: ShowsState): ShowsState {
  const there = state.entities[show.id];
  return there && there.version > show.version ? state : adapter.upsertOne(show, state);
}

export const showsFeature = createFeature({
  name: 'shows',
  reducer: createReducer(
    initial,
    on(ShowsActions.known, (state, { shows, series }) =>
      adapter.setAll(shows, { ...state, series, status: 'known', error: null }),
    ),
    on(ShowsActions.failed, (state, { error }): ShowsState => ({
      ...state,
      error,
      status: state.status === 'known' ? 'known' : 'failed',
    })),
    on(ShowsActions.showSaved, (state, { show }) => put(show, state)),
    on(ShowsActions.seriesCreated, (state, { series }) => ({
      ...state,
      series: [...state.series.filter(({ id }) => id !== series.id), series].sort((a, b) =>
        a.name.localeCompare(b.name),
      ),
    })),
    on(ShowsActions.save, (state, { id }): ShowsState => ({
      ...state,
      saving: { id, status: 'saving', error: null },
    })),
    on(ShowsActions.saveDone, (state, { show }): ShowsState => ({
      ...put(show, state),
      saving: { id: show.id, status: 'done', error: null },
    })),
    on(ShowsActions.saveRefused, (state, { id, error }): ShowsState => ({
      ...state,
      saving: { id, status: 'refused', error },
    })),
    // Whoever signs in next may be somebody else.
    on(TeamActions.signedOut, () => initial),
    on(ShowsActions.saveForgotten, (state) => ({ ...state, saving: null })),
  ),
  extraSelectors: ({ selectShowsState, selectEntities }) => {
    const { selectAll } = adapter.getSelectors(selectShowsState);
    return {
      selectAll,
      selectPlanned: createSelector(selectAll, (shows) => shows.map(plannedOf)),
      selectShow: (id: string) => createSelector(selectEntities, (entities) => entities[id] ?? null),
    };
  },
});
