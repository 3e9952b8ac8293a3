import type { ErrorBody } from '@juncta/contract/errors';
import type { Mark } from '@juncta/contract/marks';
import type { Composing } from '@juncta/contract/programme';
import type { Recording } from '@juncta/contract/recordings';
import type { ProgrammeReport } from '@juncta/contract/relay';
import { createFeature, createReducer, on } from '@ngrx/store';
import { TeamActions } from '../team/team.actions';
import { ProgrammeActions } from './programme.actions';

/** One show at a time: the one that is looked at. */
export interface ProgrammeState {
  readonly showId: string | null;
  readonly status: 'unknown' | 'known' | 'failed';
  readonly programme: ProgrammeReport | null;
  readonly recordings: readonly Recording[];
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

const initial: ProgrammeState = {
  showId: null,
  status: 'unknown',
  programme: null,
  recordings: [],
  marks: [],
  composing: null,
  busy: false,
  insisting: false,
  error: null,
};

const take = (state: ProgrammeState, programme: ProgrammeReport): ProgrammeState =>
  programme.showId === state.showId ? { ...state, programme, recordings: programme.recordings } : state;

export const programmeFeature = createFeature({
  name: 'programme',
  reducer: createReducer(
    initial,
    on(ProgrammeActions.opened, (state, { showId }) =>
      state.showId === showId ? state : { ...initial, showId },
    ),
    on(ProgrammeActions.known, (state, { showId, view }): ProgrammeState =>
      state.showId === showId
        ? { ...state, ...view, programme: view.programme ?? state.programme, status: 'known' }
        : state,
    ),
    on(ProgrammeActions.failed, (state, { error }): ProgrammeState => ({
      ...state,
      error,
      status: state.status === 'known' ? 'known' : 'failed',
    })),
    on(ProgrammeActions.programmeChanged, (state, { programme }) => take(state, programme)),
    on(ProgrammeActions.composingChanged, (state, { showId, composing }) =>
      showId === state.showId ? { ...state, composing } : state,
    ),
    on(ProgrammeActions.marksChanged, (state, { showId, marks }) =>
      showId === state.showId ? { ...state, marks } : state,
    ),
    on(
      ProgrammeActions.startFeed,
      ProgrammeActions.publishFeed,
      ProgrammeActions.stopFeed,
      ProgrammeActions.endShow,
      ProgrammeActions.cover,
      (state): ProgrammeState => ({
        ...state,
        busy: true,
        error: null,
      }),
    ),
    on(ProgrammeActions.notTakenYet, (state): ProgrammeState => ({ ...state, insisting: state.busy })),
    on(ProgrammeActions.done, (state, { programme }) => ({
      ...take(state, programme),
      busy: false,
      insisting: false,
    })),
    on(ProgrammeActions.refused, (state, { error }): ProgrammeState => ({
      ...state,
      busy: false,
      insisting: false,
      error,
    })),
    on(TeamActions.signedOut, () => initial),
  ),
});
