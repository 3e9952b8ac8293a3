import { inject } from '@angular/core';
import { Router } from '@angular/router';
import type { ErrorBody } from '@juncta/contract/errors';
import {
  acceptInvitation,
  changeRole,
  listTeam,
  readSession,
  removeMember,
  signIn,
  signInToDemo,
  signOut,
  usePasswordLink,
  type Session,
} from '@juncta/contract/team';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, exhaustMap, map, mergeMap, of, switchMap, tap, type Observable } from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';
import { TeamActions } from './team.actions';

const signedInOrNot = (request: Observable<Session>) =>
  request.pipe(
    map((session) => TeamActions.signedIn({ session })),
    catchError((error: ErrorBody) => of(TeamActions.signInRefused({ error }))),
  );

const failed = (error: ErrorBody) => of(TeamActions.requestFailed({ error }));

export const readSessionEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(TeamActions.sessionWanted),
      switchMap(() =>
        api.call(readSession).pipe(
          map((session) => TeamActions.sessionKnown({ session })),
          catchError((error: ErrorBody) => of(TeamActions.sessionUnknown({ error }))),
        ),
      ),
    ),
  { functional: true },
);

export const signInEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), feed = inject(EventFeed)) =>
    actions.pipe(
      ofType(
        TeamActions.signIn,
        TeamActions.signInToDemo,
        TeamActions.acceptInvitation,
        TeamActions.usePasswordLink,
      ),
      exhaustMap((action) => {
        switch (action.type) {
          case TeamActions.signIn.type:
            return signedInOrNot(api.call(signIn, { body: action.credentials }));
          case TeamActions.signInToDemo.type:
            return signedInOrNot(api.call(signInToDemo, { body: { memberId: action.memberId } }));
          case TeamActions.usePasswordLink.type:
            // It ends the session that this browser may still have: its socket would only say so, and throw us out.
            feed.stop();
            return signedInOrNot(api.call(usePasswordLink, { body: action.body }));
          default:
            return signedInOrNot(api.call(acceptInvitation, { body: action.body }));
        }
      }),
    ),
  { functional: true },
);

export const enterEffect = createEffect(
  (actions = inject(Actions), router = inject(Router)) =>
    actions.pipe(
      ofType(TeamActions.signedIn),
      tap(() => {
        const wanted = router.parseUrl(router.url).queryParams['to'] as string | undefined;
        // Only ways inside: an address from outside must not come in by a link.
        void router.navigateByUrl(wanted?.startsWith('/') && !wanted.startsWith('//') ? wanted : '/shows');
      }),
    ),
  { functional: true, dispatch: false },
);

export const signOutEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(TeamActions.signOut),
      exhaustMap(() =>
        api.call(signOut).pipe(
          map(() => TeamActions.signedOut({ unasked: false })),
          catchError(failed),
        ),
      ),
    ),
  { functional: true },
);

export const leaveEffect = createEffect(
  (actions = inject(Actions), router = inject(Router), feed = inject(EventFeed)) =>
    actions.pipe(
      ofType(TeamActions.signedOut),
      tap(({ unasked }) => {
        feed.stop();
        // Whoever was thrown out comes back to where they were; what they wrote is kept there.
        const to = unasked && !router.url.startsWith('/sign-in') ? { to: router.url } : {};
        void router.navigate(['/sign-in'], { queryParams: to });
      }),
    ),
  { functional: true, dispatch: false },
);

export const listTeamEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(TeamActions.membersWanted),
      switchMap(() =>
        api.call(listTeam).pipe(
          map(({ members }) => TeamActions.membersKnown({ members })),
          catchError(failed),
        ),
      ),
    ),
  { functional: true },
);

export const removeMemberEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(TeamActions.removeMember),
      mergeMap(({ memberId }) =>
        api.call(removeMember, { params: { memberId } }).pipe(
          map(() => TeamActions.memberRemoved({ memberId })),
          catchError(failed),
        ),
      ),
    ),
  { functional: true },
);

export const changeRoleEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(TeamActions.changeRole),
      mergeMap(({ memberId, role }) =>
        api.call(changeRole, { params: { memberId }, body: { role } }).pipe(
          map((member) => TeamActions.memberChanged({ member })),
          catchError(failed),
        ),
      ),
    ),
  { functional: true },
);

/** A refusal that says "signed out", wherever it came from, ends the session here too. */
export const thrownOutEffect = createEffect(
  (actions = inject(Actions)) =>
    actions.pipe(
      mergeMap((action) => {
        const error = (action as { error?: ErrorBody }).error;
        return error?.code === 'signed_out' ? of(TeamActions.signedOut({ unasked: true })) : of();
      }),
    ),
  { functional: true },
);
