import { inject } from '@angular/core';
import {
  ANYTHING,
  answerFlood,
  closeChat,
  findMessages,
  moderate,
  readChat,
  setOnProgramme,
  writeChat,
} from '@juncta/contract/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { streamOf } from '@juncta/contract/events';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store, type Action } from '@ngrx/store';
import {
  catchError,
  concatMap,
  EMPTY,
  exhaustMap,
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
      tap(({ showId, seq }) =>
        feed.follow(
          'chat',
          streamOf('chat', showId),
          seq,
          () => store.dispatch(ChatActions.stale()),
          (event) => {
            if (event.type === 'messages.added') store.dispatch(ChatActions.added(event.payload));
            if (event.type === 'line.changed')
              store.dispatch(ChatActions.lineChanged({ line: event.payload }));
            if (event.type === 'reactions.counted')
              store.dispatch(ChatActions.reactionsCounted(event.payload));
            if (event.type === 'viewer.noted') store.dispatch(ChatActions.viewerNoted(event.payload));
            if (event.type === 'practice.changed') store.dispatch(ChatActions.practiceChanged(event.payload));
            if (event.type === 'times.righted') store.dispatch(ChatActions.timesRighted(event.payload));
            if (event.type === 'flood.changed') store.dispatch(ChatActions.floodChanged(event.payload));
            if (event.type === 'programme.set')
              store.dispatch(ChatActions.programmeSet({ ...event.payload, atMs: performance.now() }));
          },
        ),
      ),
    ),
  { functional: true, dispatch: false },
);

/** Only what was looked for last is of any interest. */
export const findEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(ChatActions.find),
      switchMap(({ showId, query }) =>
        query === null
          ? EMPTY
          : api.call(findMessages, { params: { showId }, body: query }).pipe(
              map((found) => ChatActions.found({ query, ...found })),
              catchError((error: ErrorBody) => of(ChatActions.refused({ error }))),
            ),
      ),
    ),
  { functional: true },
);

export const earlierEffect = createEffect(
  (actions = inject(Actions), api = inject(Api), store = inject(Store)) =>
    actions.pipe(
      ofType(ChatActions.earlier),
      withLatestFrom(store.select(chatFeature.selectMessages)),
      exhaustMap(([{ showId }, [first]]) =>
        api
          .call(findMessages, {
            params: { showId },
            body: { ...ANYTHING, before: first ? { id: first.id, writtenAtMs: first.writtenAtMs } : null },
          })
          .pipe(
            map((found) => ChatActions.earlierKnown({ showId, ...found })),
            catchError((error: ErrorBody) => of(ChatActions.refused({ error }))),
          ),
      ),
    ),
  { functional: true },
);

/** That somebody is about to deal with a message: said beside everything else, and no harm if it is not heard. */
export const takeEffect = createEffect(
  (actions = inject(Actions), api = inject(Api)) =>
    actions.pipe(
      ofType(ChatActions.take),
      concatMap(({ showId, messageId, act }) =>
        api.call(moderate, { params: { showId, messageId }, body: { act } }).pipe(
          map(({ messages }) => ChatActions.added({ showId, messages })),
          catchError(() => EMPTY),
        ),
      ),
    ),
  { functional: true },
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
      ofType(
        ChatActions.write,
        ChatActions.putOnProgramme,
        ChatActions.moderate,
        ChatActions.answerFlood,
        ChatActions.close,
      ),
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
            const { messageId, seconds, text } = order;
            const body = { messageId, seconds, ...(text === null ? {} : { text }) };
            return answered(api.call(setOnProgramme, { params, body }), () => ChatActions.done());
          }
          case ChatActions.moderate.type: {
            const { messageId, act } = order;
            const asked = api.call(moderate, { params: { ...params, messageId }, body: { act } });
            return answered(asked, (done) => ChatActions.moderated({ messageId, act, ...done }));
          }
          case ChatActions.answerFlood.type: {
            const { floodId, answer } = order;
            const asked = api.call(answerFlood, { params: { ...params, floodId }, body: { answer } });
            return answered(asked, ({ flood }) => ChatActions.floodAnswered({ flood }));
          }
          case ChatActions.close.type:
            return answered(api.call(closeChat, { params }), () => ChatActions.done());
        }
      }),
    ),
  { functional: true },
);
