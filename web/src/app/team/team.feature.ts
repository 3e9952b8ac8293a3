import { can, type Right } from '@juncta/core/team';
import type { ErrorBody } from '@juncta/contract/errors';
import type { Member, Session } from '@juncta/contract/team';
import { createFeature, createReducer, createSelector, on } from '@ngrx/store';
import { TeamActions } from './team.actions';

export interface TeamState {
  /** Null until the server has said who is looking. */
  readonly session: Session | null;
  /** Signed out by the server and not by the user: said on the sign-in page. */
  readonly endedUnasked: boolean;
  readonly signingIn: boolean;
  readonly error: ErrorBody | null;
  readonly members: readonly Member[];
}

const initial: TeamState = {
  session: null,
  endedUnasked: false,
  signingIn: false,
  error: null,
  members: [],
};

const byName = (members: readonly Member[]) => [...members].sort((a, b) => a.name.localeCompare(b.name));

export const teamFeature = createFeature({
  name: 'team',
  reducer: createReducer(
    initial,
    on(TeamActions.sessionKnown, (state, { session }) => ({ ...state, session, error: null })),
    on(TeamActions.sessionUnknown, TeamActions.requestFailed, (state, { error }) => ({ ...state, error })),
    on(
      TeamActions.signIn,
      TeamActions.signInToDemo,
      TeamActions.acceptInvitation,
      TeamActions.usePasswordLink,
      (state) => ({ ...state, signingIn: true, error: null }),
    ),
    on(TeamActions.signedIn, (state, { session }) => ({
      ...state,
      session,
      signingIn: false,
      endedUnasked: false,
      error: null,
    })),
    on(TeamActions.signInRefused, (state, { error }) => ({ ...state, signingIn: false, error })),
    on(TeamActions.signedOut, (state, { unasked }) => ({
      ...initial,
      session: { member: null, demo: state.session?.demo ?? false },
      endedUnasked: unasked,
    })),
    on(TeamActions.membersKnown, (state, { members }) => ({
      ...state,
      members: byName(members),
      error: null,
    })),
    on(TeamActions.memberChanged, (state, { member }) => ({
      ...state,
      members: state.members.map((before) => (before.id === member.id ? member : before)),
      error: null,
    })),
    on(TeamActions.memberRemoved, (state, { memberId }) => ({
      ...state,
      members: state.members.filter(({ id }) => id !== memberId),
    })),
  ),
  extraSelectors: ({ selectSession }) => ({
    selectMember: createSelector(selectSession, (session) => session?.member ?? null),
    selectMay: createSelector(
      selectSession,
      (session) => (needed: Right) => !!session?.member && can(session.member.role, needed),
    ),
  }),
});
