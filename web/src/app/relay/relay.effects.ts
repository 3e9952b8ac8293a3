import { inject } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { publishFeed, startFeed, stopFeed } from '@juncta/contract/feeds';
import { coverProgramme, endShow, readProgramme } from '@juncta/contract/programme';
import { type ProgrammeReport } from '@juncta/contract/relay';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import {
  catchError,
  concatMap,
  filter,
  map,
  of,
  switchMap,
  tap,
  withLatestFrom,
  type Observable,
} from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';
import { insisting } from './insisting';
import { RelayActions } from './relay.actions';
import { relayFeature } from './relay.feature';

export const readEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), store = inject(Store)) =>
    actions.pipe(
      ofType(RelayActions.opened, RelayActions.stale),
      withLatestFrom(store.select(relayFeature.selectShowId)),
      map(([, showId]) => showId),
      filter((showId) => showId !== null),
      switchMap((showId) =>
        api.call(readProgramme, { params: { showId } }).pipe(
          map((view) => RelayActions.known({ showId, view })),
          catchError((error: ErrorBody) => of(RelayActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);

export const followRelayEffect = createEffect(
  (actions = inject(Actions), feed = inject(EventFeed), store = inject(Store)) =>
    actions.pipe(
      ofType(RelayActions.known),
      tap(({ view }) => {
        feed.whenFigures((programmes) => store.dispatch(RelayActions.figures({ programmes })));
        feed.whenViewers((counted) => store.dispatch(RelayActions.viewersCounted({ counted })));
        feed.follow(
          'relay',
          view.seq,
          (event) => {
            if (event.type === 'programme.changed')
              store.dispatch(RelayActions.programmeChanged(event.payload));
            if (event.type === 'composing.changed')
              store.dispatch(RelayActions.composingChanged(event.payload));
            if (event.type === 'listing.changed') store.dispatch(RelayActions.listingChanged(event.payload));
            if (event.type === 'marks.changed') store.dispatch(RelayActions.marksChanged(event.payload));
            if (event.type === 'destinations.changed') store.dispatch(RelayActions.stale());
          },
          () => store.dispatch(RelayActions.stale()),
        );
      }),
    ),
  { functional: true, dispatch: false },
);

/** Orders go out one after the other: a start must not overtake an end. */
export const orderEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), store = inject(Store)) => {
    const answered = (order: Observable<ProgrammeReport>) =>
      insisting(order, () => store.dispatch(RelayActions.notTakenYet())).pipe(
        map((programme) => RelayActions.done({ programme })),
        catchError((error: ErrorBody) => of(RelayActions.refused({ error }))),
      );
    return actions.pipe(
      ofType(
        RelayActions.startFeed,
        RelayActions.publishFeed,
        RelayActions.stopFeed,
        RelayActions.endShow,
        RelayActions.cover,
      ),
      concatMap((order) => {
        const { showId } = order;
        switch (order.type) {
          case RelayActions.startFeed.type:
            return answered(api.call(startFeed, { params: { showId, destinationId: order.destinationId } }));
          case RelayActions.publishFeed.type:
            return answered(
              api.call(publishFeed, { params: { showId, destinationId: order.destinationId } }),
            );
          case RelayActions.stopFeed.type:
            return answered(api.call(stopFeed, { params: { showId, destinationId: order.destinationId } }));
          case RelayActions.endShow.type:
            return answered(api.call(endShow, { params: { showId } }));
          case RelayActions.cover.type:
            return answered(api.call(coverProgramme, { params: { showId }, body: { on: order.on } }));
        }
      }),
    );
  },
  { functional: true },
);
