import { inject } from '@angular/core';
import { closeChat, moderate, readChat, setOnProgramme, writeChat } from '@juncta/contract/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store, type Action } from '@ngrx/store';
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
import { ChatActions } from './chat.actions';
import { chatFeature } from './chat.feature';

export const readChatEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), store = inject(Store)) =>
    actions.pipe(
      ofType(ChatActions.opened, ChatActions.stale),
      withLatestFrom(store.select(chatFeature.selectShowId)),
      map(([, showId]) => showId),
      filter((showId) => showId !== null),
      switchMap((showId) =>
        api.call(readChat, { params: { showId } }).pipe(
          map((chat) => ChatActions.known({ showId, ...chat, atMs: performance.now() })),
          catchError((error: ErrorBody) => of(ChatActions.failed({ error }))),
        ),
      ),
    ),
  { functional: true },
);

export const followChatEffect = createEffect(
  (actions = inject(Actions), feed = inject(EventFeed), store = inject(Store)) =>
    actions.pipe(
      ofType(ChatActions.known),
      tap(({ seq }) =>
        feed.follow(
          'chat',
          seq,
          (event) => {
            if (event.type === 'messages.added') store.dispatch(ChatActions.added(event.payload));
            if (event.type === 'line.changed')
              store.dispatch(ChatActions.lineChanged({ line: event.payload }));
            if (event.type === 'programme.set')
              store.dispatch(ChatActions.programmeSet({ ...event.payload, atMs: performance.now() }));
          },
          () => store.dispatch(ChatActions.stale()),
        ),
      ),
    ),
  { functional: true, dispatch: false },
);

const answered = <T>(order: Observable<T>, done: (answer: T) => Action): Observable<Action> =>
  order.pipe(
    map(done),
    catchError((error: ErrorBody) => of(ChatActions.refused({ error }))),
  );

/** One after the other, in the order in which they were wanted. */
export const chatOrderEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(ChatActions.write, ChatActions.putOnProgramme, ChatActions.moderate, ChatActions.close),
      concatMap((order) => {
        const params = { showId: order.showId };
        switch (order.type) {
          case ChatActions.write.type: {
            const { id, text, replyTo } = order;
            return answered(api.call(writeChat, { params, body: { id, text, replyTo } }), ({ outcomes }) =>
              ChatActions.written({ id, outcomes }),
            );
          }
          case ChatActions.putOnProgramme.type: {
            const { messageId, seconds } = order;
            return answered(api.call(setOnProgramme, { params, body: { messageId, seconds } }), () =>
              ChatActions.done(),
            );
          }
          case ChatActions.moderate.type: {
            const { messageId, act } = order;
            const asked = api.call(moderate, { params: { ...params, messageId }, body: { act } });
            return answered(asked, (done) => ChatActions.moderated({ messageId, act, ...done }));
          }
          case ChatActions.close.type:
            return answered(api.call(closeChat, { params }), () => ChatActions.done());
        }
      }),
    ),
  { functional: true },
);
