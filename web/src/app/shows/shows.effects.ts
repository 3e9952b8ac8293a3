import { inject } from '@angular/core';
import { Router } from '@angular/router';
import type { ErrorBody } from '@juncta/contract/errors';
import { archiveShow, createSeries, createShow, listShows, saveShow } from '@juncta/contract/shows';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, exhaustMap, filter, map, mergeMap, of, switchMap, tap } from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';
import { TeamActions } from '../team/team.actions';
import { ShowsActions } from './shows.actions';

export const listEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(ShowsActions.wanted),
      switchMap(() =>
        api.call(listShows).pipe(
          map((answer) => ShowsActions.known(answer)),
          catchError((error: ErrorBody) => of(ShowsActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);

/** Asked for as soon as it is known who looks, while the page's own code is still on its way. */
export const readEarlyEffect = createEffect(
  (actions = inject(Actions)) =>
    actions.pipe(
      ofType(TeamActions.sessionKnown, TeamActions.signedIn),
      filter(({ session }) => session.member !== null),
      map(() => ShowsActions.wanted()),
    ),
  { functional: true },
);

/** From the number that the list contains, every change comes by itself. */
export const followEffect = createEffect(
  (actions = inject(Actions), feed = inject(EventFeed), store = inject(Store)) =>
    actions.pipe(
      ofType(ShowsActions.known),
      tap(({ seq }) => {
        feed.whenSignedOut(() => store.dispatch(TeamActions.signedOut({ unasked: true })));
        const wanted = () => store.dispatch(ShowsActions.wanted());
        feed.follow('shows', 'shows', seq, wanted, (event) => {
          if (event.type === 'show.saved') store.dispatch(ShowsActions.showSaved(event.payload));
          else if (event.type === 'series.created' || event.type === 'series.changed')
            store.dispatch(ShowsActions.seriesCreated(event.payload));
        });
      }),
    ),
  { functional: true, dispatch: false },
);

export const saveEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(ShowsActions.save),
      exhaustMap(({ id, version, text }) => {
        const request =
          version === null
            ? api.call(createShow, { body: { id, text } })
            : api.call(saveShow, { params: { showId: id }, body: { version, text } });
        return request.pipe(
          map((show) => ShowsActions.saveDone({ show })),
          catchError((error: ErrorBody) => of(ShowsActions.saveRefused({ id, error }))),
        );
      }),
    ),
  { functional: true },
);

/** A show that was new gets its own address. */
export const openNewEffect = createEffect(
  (actions = inject(Actions), router = inject(Router)) =>
    actions.pipe(
      ofType(ShowsActions.saveDone),
      filter(() => router.url.startsWith('/shows/new')),
      tap(({ show }) => void router.navigate(['/shows', show.id], { replaceUrl: true })),
    ),
  { functional: true, dispatch: false },
);

export const archiveEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(ShowsActions.archive),
      mergeMap(({ id, archived }) =>
        api.call(archiveShow, { params: { showId: id }, body: { archived } }).pipe(
          map((show) => ShowsActions.showSaved({ show })),
          catchError((error: ErrorBody) => of(ShowsActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);

export const createSeriesEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(ShowsActions.createSeries),
      mergeMap(({ series }) =>
        api.call(createSeries, { body: series }).pipe(
          map((created) => ShowsActions.seriesCreated({ series: created })),
          catchError((error: ErrorBody) => of(ShowsActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);
