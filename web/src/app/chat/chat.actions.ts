import type { AnswerOutcome, ChatAct, ChatLine, ChatMessage, OnProgramme } from '@juncta/contract/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { createActionGroup, emptyProps, props } from '@ngrx/store';

export const ChatActions = createActionGroup({
  source: 'Chat',
  events: {
    /** Somebody reads the messages of this show. */
    opened: props<{ showId: string }>(),
    known: props<{
      showId: string;
      messages: readonly ChatMessage[];
      lines: readonly ChatLine[];
      onProgramme: OnProgramme | null;
      seq: number;
      atMs: number;
    }>(),
    failed: props<{ error: ErrorBody }>(),
    /** Events were missed that are not kept any more. */
    stale: emptyProps(),
    added: props<{ showId: string; messages: readonly ChatMessage[] }>(),
    lineChanged: props<{ line: ChatLine }>(),
    /** `atMs`: by this page's own clock, from which the rest of its time is counted. */
    programmeSet: props<{ showId: string; onProgramme: OnProgramme | null; atMs: number }>(),
    write: props<{ showId: string; id: string; text: string; replyTo: string | null }>(),
    written: props<{ id: string; outcomes: readonly AnswerOutcome[] }>(),
    putOnProgramme: props<{ showId: string; messageId: string | null; seconds: number }>(),
    moderate: props<{ showId: string; messageId: string; act: ChatAct }>(),
    /** `sentence`: what its place did not do. */
    moderated: props<{
      messageId: string;
      act: ChatAct;
      messages: readonly ChatMessage[];
      sentence: string | null;
    }>(),
    close: props<{ showId: string }>(),
    done: emptyProps(),
    refused: props<{ error: ErrorBody }>(),
  },
});
