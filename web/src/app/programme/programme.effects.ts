import { inject } from '@angular/core';
import type { ErrorBody } from '@juncta/contract/errors';
import { streamOf } from '@juncta/contract/events';
import { publishFeed, startFeed, stopFeed } from '@juncta/contract/feeds';
import { coverProgramme, endShow, readProgramme } from '@juncta/contract/programme';
import type { ProgrammeReport } from '@juncta/contract/relay';
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
import { ProgrammeActions } from './programme.actions';
import { programmeFeature } from './programme.feature';

export const readEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), store = inject(Store)) =>
    actions.pipe(
      ofType(ProgrammeActions.opened, ProgrammeActions.stale),
      withLatestFrom(store.select(programmeFeature.selectShowId)),
      map(([, showId]) => showId),
      filter((showId) => showId !== null),
      switchMap((showId) =>
        api.call(readProgramme, { params: { showId } }).pipe(
          map((view) => ProgrammeActions.known({ showId, view })),
          catchError((error: ErrorBody) => of(ProgrammeActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);

export const followProgrammeEffect = createEffect(
  (actions = inject(Actions), feed = inject(EventFeed), store = inject(Store)) =>
    actions.pipe(
      ofType(ProgrammeActions.known),
      tap(({ showId, view }) => {
        const changed = (programme: ProgrammeReport) =>
          store.dispatch(ProgrammeActions.programmeChanged({ programme }));
        const stale = () => store.dispatch(ProgrammeActions.stale());
        feed.whenFigures(changed);
        feed.follow('programme', streamOf('programme', showId), view.seq, stale, (event) => {
          if (event.type === 'programme.changed') changed(event.payload.programme);
          if (event.type === 'composing.changed')
            store.dispatch(ProgrammeActions.composingChanged(event.payload));
          if (event.type === 'marks.changed') store.dispatch(ProgrammeActions.marksChanged(event.payload));
        });
      }),
    ),
  { functional: true, dispatch: false },
);

/** Orders go out one after the other: a start must not overtake an end. */
export const orderEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), store = inject(Store)) => {
    const answered = (order: Observable<ProgrammeReport>) =>
      insisting(order, () => store.dispatch(ProgrammeActions.notTakenYet())).pipe(
        map((programme) => ProgrammeActions.done({ programme })),
        catchError((error: ErrorBody) => of(ProgrammeActions.refused({ error }))),
      );
    return actions.pipe(
      ofType(
        ProgrammeActions.startFeed,
        ProgrammeActions.publishFeed,
        ProgrammeActions.stopFeed,
        ProgrammeActions.endShow,
        ProgrammeActions.cover,
      ),
      concatMap((order) => {
        const { showId } = order;
        switch (order.type) {
          case ProgrammeActions.startFeed.type:
            return answered(api.call(startFeed, { params: { showId, destinationId: order.destinationId } }));
          case ProgrammeActions.publishFeed.type:
            return answered(
              api.call(publishFeed, { params: { showId, destinationId: order.destinationId } }),
            );
          case ProgrammeActions.stopFeed.type:
            return answered(api.call(stopFeed, { params: { showId, destinationId: order.destinationId } }));
          case ProgrammeActions.endShow.type:
            return answered(api.call(endShow, { params: { showId } }));
          case ProgrammeActions.cover.type:
            return answered(api.call(coverProgramme, { params: { showId }, body: { on: order.on } }));
        }
      }),
    );
  },
  { functional: true },
);
