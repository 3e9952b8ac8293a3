import { inject } from '@angular/core';
import { type CanActivateFn, Router } from '@angular/router';
import { can, type Right } from '@juncta/core/team';
import { Store } from '@ngrx/store';
import { filter, map, take } from 'rxjs';
import { teamFeature } from './team.feature';

/** Waits until it is known who looks. */
const session = () =>
  inject(Store)
    .select(teamFeature.selectSession)
    .pipe(
      filter((known) => known !== null),
      take(1),
    );

/** Guards spare people pages that would only refuse them; what is allowed is decided by the server. */
export const membersOnly: CanActivateFn = (_route, state) => {
  const router = inject(Router);
  const to = state.url === '/' ? {} : { queryParams: { to: state.url } };
  return session().pipe(map(({ member }) => !!member || router.createUrlTree(['/sign-in'], to)));
};

export const strangersOnly: CanActivateFn = () => {
  const router = inject(Router);
  return session().pipe(map(({ member }) => !member || router.createUrlTree(['/shows'])));
};

export const withRight =
  (needed: Right): CanActivateFn =>
  () => {
    const router = inject(Router);
    return session().pipe(
      map(({ member }) => (!!member && can(member.role, needed)) || router.createUrlTree(['/shows'])),
    );
  };
