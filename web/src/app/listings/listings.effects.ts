import { inject } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { streamOf } from '@juncta/contract/events';
import { readListings } from '@juncta/contract/listings';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, filter, map, of, switchMap, tap, withLatestFrom } from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';
import { ListingsActions } from './listings.actions';
import { listingsFeature } from './listings.feature';

export const readListingsEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), store = inject(Store)) =>
    actions.pipe(
      ofType(ListingsActions.opened, ListingsActions.stale),
      withLatestFrom(store.select(listingsFeature.selectShowId)),
      map(([, showId]) => showId),
      filter((showId) => showId !== null),
      switchMap((showId) =>
        api.call(readListings, { params: { showId } }).pipe(
          map((view) => ListingsActions.known({ showId, view })),
          catchError((error: ErrorBody) => of(ListingsActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);

export const followListingsEffect = createEffect(
  (actions = inject(Actions), feed = inject(EventFeed), store = inject(Store)) =>
    actions.pipe(
      ofType(ListingsActions.known),
      tap(({ showId, view: { seqs } }) => {
        const stale = () => store.dispatch(ListingsActions.stale());
        feed.whenViewers((counted) => store.dispatch(ListingsActions.viewersCounted({ counted })));
        feed.follow('listings', streamOf('listings', showId), seqs.listings, stale, (event) => {
          if (event.type === 'listing.changed') store.dispatch(ListingsActions.changed(event.payload));
          else stale();
        });
        feed.follow('listings: destinations', 'destinations', seqs.destinations, stale, (event) => {
          if (event.type === 'destinations.changed') stale();
        });
      }),
    ),
  { functional: true, dispatch: false },
);
