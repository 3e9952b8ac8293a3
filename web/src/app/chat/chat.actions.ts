import type {
  AnswerOutcome,
  ChatFlood,
  ChatLine,
  ChatMessage,
  ChatQuery,
  OnProgramme,
  Practice,
  Reactions,
  ViewerNote,
} from '@juncta/contract/chat';
import type { ChatAct } from '@juncta/core/chat';
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
      /** There are more before the first of them. */
      more: boolean;
      lines: readonly ChatLine[];
      floods: readonly ChatFlood[];
      notes: readonly ViewerNote[];
      reactions: Reactions;
      onProgramme: OnProgramme | null;
      practice: Practice | null;
      seq: number;
      atMs: number;
    }>(),
    failed: props<{ error: ErrorBody }>(),
    /** Events were missed that are not kept any more. */
    stale: emptyProps(),
    added: props<{ showId: string; messages: readonly ChatMessage[] }>(),
    /** Something is looked for among all messages; null: no longer. */
    find: props<{ showId: string; query: ChatQuery | null }>(),
    found: props<{ query: ChatQuery; messages: readonly ChatMessage[]; more: boolean }>(),
    /** What was written before the first message that is here. */
    earlier: props<{ showId: string }>(),
    earlierKnown: props<{ showId: string; messages: readonly ChatMessage[]; more: boolean }>(),
    /** Somebody reads further up: nothing of what they may look at is let go of. */
    readingBack: emptyProps(),
    /** The reader is at the newest again: what is older need not be kept here. */
    atNewest: emptyProps(),
    lineChanged: props<{ line: ChatLine }>(),
    /** Null: it is over, and what came with it is gone. */
    practiceChanged: props<{ showId: string; practice: Practice | null }>(),
    timesRighted: props<{ showId: string; destinationId: string; byMs: number }>(),
    /** An empty note: there is none any more. */
    viewerNoted: props<{ note: ViewerNote }>(),
    reactionsCounted: props<{ showId: string; reactions: Reactions }>(),
    floodChanged: props<{ flood: ChatFlood }>(),
    answerFlood: props<{ showId: string; floodId: string; answer: 'aside' | 'let_be' }>(),
    /** `atMs`: by this page's own clock, from which the rest of its time is counted. */
    programmeSet: props<{ showId: string; onProgramme: OnProgramme | null; atMs: number }>(),
    write: props<{ showId: string; id: string; text: string; replyTo: string | null }>(),
    written: props<{ id: string; outcomes: readonly AnswerOutcome[] }>(),
    /** `text`: as it is to stand on the screen; null: as it was written. */
    putOnProgramme: props<{
      showId: string;
      messageId: string | null;
      /** Null: until it is taken off. */
      seconds: number | null;
      text: string | null;
    }>(),
    moderate: props<{ showId: string; messageId: string; act: ChatAct }>(),
    /** The others are told that somebody is about to deal with it, or is not any more. */
    take: props<{ showId: string; messageId: string; act: 'take' | 'release' }>(),
    /** `sentence`: what its place did not do. */
    moderated: props<{
      messageId: string;
      act: ChatAct;
      messages: readonly ChatMessage[];
      sentence: string | null;
    }>(),
    floodAnswered: props<{ flood: ChatFlood }>(),
    close: props<{ showId: string }>(),
    done: emptyProps(),
    refused: props<{ error: ErrorBody }>(),
  },
});
