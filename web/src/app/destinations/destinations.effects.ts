import { inject } from '@angular/core';
import { listDestinations } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, map, of, switchMap, tap } from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';
import { DestinationsActions } from './destinations.actions';

export const readDestinationsEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(DestinationsActions.wanted),
      switchMap(() =>
        api.call(listDestinations).pipe(
          map((list) => DestinationsActions.known(list)),
          catchError((error: ErrorBody) => of(DestinationsActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);

export const followDestinationsEffect = createEffect(
  (actions = inject(Actions), feed = inject(EventFeed), store = inject(Store)) =>
    actions.pipe(
      ofType(DestinationsActions.known),
      tap(({ seq }) => {
        const wanted = () => store.dispatch(DestinationsActions.wanted());
        feed.follow('destinations', 'destinations', seq, wanted, (event) => {
          if (event.type === 'destinations.changed') wanted();
        });
      }),
    ),
  { functional: true, dispatch: false },
);
