import type { AnswerOutcome, ChatAct, ChatLine, ChatMessage, OnProgramme } from '@juncta/contract/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { mergeWritten } from '@juncta/core/chat';
import { createFeature, createReducer, on } from '@ngrx/store';
import { TeamActions } from '../team/team.actions';
import { ChatActions } from './chat.actions';

/** A desk shows so many of the newest; the files have all. */
const MOST_SHOWN = 1000;

/** One show at a time: the one that is looked at. */
export interface ChatState {
  readonly showId: string | null;
  readonly status: 'unknown' | 'known' | 'failed';
  /** In the order of writing. */
  readonly messages: readonly ChatMessage[];
  readonly lines: readonly ChatLine[];
  /** `untilMs`: by this page's own clock. */
  readonly onProgramme: (OnProgramme & { readonly untilMs: number }) | null;
  readonly busy: boolean;
  readonly error: ErrorBody | null;
  /** What became of what was written last; empty once something else is written. */
  readonly outcomes: readonly AnswerOutcome[];
  /** What was last done with a message, so that it can be taken back; null: nothing. */
  readonly lastAct: {
    readonly messageId: string;
    readonly act: ChatAct;
    readonly sentence: string | null;
  } | null;
}

const initial: ChatState = {
  showId: null,
  status: 'unknown',
  messages: [],
  lines: [],
  onProgramme: null,
  busy: false,
  error: null,
  outcomes: [],
  lastAct: null,
};

const until = (onProgramme: OnProgramme | null, atMs: number) =>
  onProgramme && { ...onProgramme, untilMs: atMs + onProgramme.remainingMs };

export const chatFeature = createFeature({
  name: 'chat',
  reducer: createReducer(
    initial,
    on(ChatActions.opened, (state, { showId }) => (state.showId === showId ? state : { ...initial, showId })),
    on(ChatActions.known, (state, { showId, messages, lines, onProgramme, atMs }): ChatState =>
      showId === state.showId
        ? { ...state, status: 'known', messages, lines, onProgramme: until(onProgramme, atMs) }
        : state,
    ),
    on(ChatActions.failed, (state, { error }): ChatState => ({
      ...state,
      error,
      status: state.status === 'known' ? 'known' : 'failed',
    })),
    on(ChatActions.added, (state, { showId, messages }) =>
      showId === state.showId
        ? { ...state, messages: mergeWritten(state.messages, messages).slice(-MOST_SHOWN) }
        : state,
    ),
    on(ChatActions.lineChanged, (state, { line }) =>
      line.showId === state.showId
        ? {
            ...state,
            lines: [...state.lines.filter((one) => one.destinationId !== line.destinationId), line],
          }
        : state,
    ),
    on(ChatActions.programmeSet, (state, { showId, onProgramme, atMs }) =>
      showId === state.showId ? { ...state, onProgramme: until(onProgramme, atMs) } : state,
    ),
    on(
      ChatActions.write,
      ChatActions.putOnProgramme,
      ChatActions.moderate,
      ChatActions.close,
      (state): ChatState => ({ ...state, busy: true, error: null, outcomes: [], lastAct: null }),
    ),
    on(ChatActions.moderated, (state, { messageId, act, messages, sentence }): ChatState => ({
      ...state,
      busy: false,
      lastAct: { messageId, act, sentence },
      messages: mergeWritten(state.messages, messages).slice(-MOST_SHOWN),
    })),
    on(ChatActions.written, (state, { outcomes }): ChatState => ({ ...state, busy: false, outcomes })),
    on(ChatActions.done, (state): ChatState => ({ ...state, busy: false })),
    on(ChatActions.refused, (state, { error }): ChatState => ({ ...state, busy: false, error })),
    on(TeamActions.signedOut, () => initial),
  ),
});
