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
import { type ChatAct, BY_FLOOD, LET_BE_WITH_FLOOD, mergeWritten } from '@juncta/core/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { createFeature, createReducer, on } from '@ngrx/store';
import { TeamActions } from '../team/team.actions';
import { ChatActions } from './chat.actions';

/** A desk holds so many of the newest, and more only while somebody reads back. */
const MOST_HELD = 1000;
const MOST_WHILE_READING = 20_000;

/** One show at a time: the one that is looked at. */
export interface ChatState {
  readonly showId: string | null;
  readonly status: 'unknown' | 'known' | 'failed';
  /** In the order of writing. */
  readonly messages: readonly ChatMessage[];
  /** How many are held; more while somebody reads back. */
  readonly most: number;
  /** There are some before the first that is held. */
  readonly moreBefore: boolean;
  /** What was looked for, and what of it stands last; null: nothing is. */
  readonly found: {
    readonly query: ChatQuery;
    /** Null: it is being looked for. */
    readonly messages: readonly ChatMessage[] | null;
    readonly more: boolean;
  } | null;
  readonly lines: readonly ChatLine[];
  /** Those that are coming, and those of late; the newest first. */
  readonly floods: readonly ChatFlood[];
  /** On viewers, by {@link viewerOf}. */
  readonly notes: Readonly<Record<string, ViewerNote>>;
  readonly reactions: Reactions;
  /** `untilMs`: by this page's own clock; infinite: until it is taken off. */
  readonly onProgramme: (OnProgramme & { readonly untilMs: number }) | null;
  /** Messages of another evening are being given once more; null: none are. */
  readonly practice: Practice | null;
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
  most: MOST_HELD,
  moreBefore: false,
  found: null,
  lines: [],
  floods: [],
  notes: {},
  reactions: { counts: {}, lastMinute: 0 },
  onProgramme: null,
  practice: null,
  busy: false,
  error: null,
  outcomes: [],
  lastAct: null,
};

/** Puts in what came or changed, also among what was found. Which of it would be found newly is not looked for. */
function withMessages(state: ChatState, changed: readonly ChatMessage[]): ChatState {
  const first = state.messages[0];
  // What is older than all that is held is not put in: a hole would gape behind it, and nobody would ask for that.
  const held = new Set(state.messages.map(({ id }) => id));
  const near = state.moreBefore
    ? changed.filter(({ id, writtenAtMs }) => held.has(id) || !first || writtenAtMs >= first.writtenAtMs)
    : changed;
  const merged = mergeWritten(state.messages, near);
  const messages = merged.slice(-state.most);
  const moreBefore = state.moreBefore || messages.length < merged.length;
  const byId = new Map(changed.map((message) => [message.id, message]));
  const found = state.found && {
    ...state.found,
    messages: state.found.messages?.map((message) => byId.get(message.id) ?? message) ?? null,
  };
  return { ...state, messages, moreBefore, found };
}

/** With a flood its messages go aside or come back; what a person or a rule did with one of them stays. */
function withFlood(state: ChatState, flood: ChatFlood): ChatState {
  if (flood.showId !== state.showId) return state;
  const floods = [flood, ...state.floods.filter(({ id }) => id !== flood.id)].sort(
    (a, b) => b.sinceMs - a.sinceMs,
  );
  const stands = (message: ChatMessage): ChatMessage => {
    if (message.flood !== flood.id) return message;
    if (flood.answer === 'aside' && message.standing === 'shown')
      return { ...message, standing: 'aside', by: BY_FLOOD };
    if (
      flood.answer === 'let_be' &&
      message.standing === 'aside' &&
      LET_BE_WITH_FLOOD.includes(message.by ?? '')
    )
      return { ...message, standing: 'shown', by: flood.answeredBy };
    return message;
  };
  return { ...eachMessage(state, stands), floods };
}

/** Changes messages where they stand; null takes one away. */
function eachMessage(state: ChatState, change: (message: ChatMessage) => ChatMessage | null): ChatState {
  const changed = (messages: readonly ChatMessage[]) => messages.flatMap((message) => change(message) ?? []);
  const found = state.found && {
    ...state.found,
    messages: state.found.messages && changed(state.found.messages),
  };
  return { ...state, messages: changed(state.messages), found };
}

/** What came with a practice goes with it. */
function withPractice(state: ChatState, practice: Practice | null): ChatState {
  const before = state.practice;
  if (practice !== null || before === null) return { ...state, practice };
  return {
    ...eachMessage(state, (message) => (message.practice ? null : message)),
    floods: state.floods.filter(({ sinceMs }) => sinceMs < before.startedMs),
    lastAct: null,
    practice,
  };
}

/** As the server does it with all that it keeps. */
function righted(message: ChatMessage, destinationId: string, byMs: number): ChatMessage {
  const { showTimeMs, showTimeAbout } = message;
  if (!showTimeAbout || message.destinationId !== destinationId) return message;
  const isSeen = showTimeMs !== null && showTimeMs + byMs >= 0;
  return { ...message, showTimeMs: isSeen ? showTimeMs + byMs : null, showTimeAbout: false };
}

/** One viewer, whatever they call themselves. */
export const viewerOf = ({
  destinationId,
  authorId,
}: Pick<ViewerNote, 'destinationId' | 'authorId'>): string => `${destinationId} ${authorId}`;

const until = (onProgramme: OnProgramme | null, atMs: number) =>
  onProgramme && { ...onProgramme, untilMs: atMs + (onProgramme.remainingMs ?? Infinity) };

export const chatFeature = createFeature({
  name: 'chat',
  reducer: createReducer(
    initial,
    on(ChatActions.opened, (state, { showId }) => (state.showId === showId ? state : { ...initial, showId })),
    on(
      ChatActions.known,
      (
        state,
        { showId, messages, more, lines, floods, notes, reactions, onProgramme, practice, atMs },
      ): ChatState =>
        showId === state.showId
          ? {
              ...state,
              status: 'known',
              messages,
              moreBefore: more,
              lines,
              floods,
              notes: Object.fromEntries(notes.map((note) => [viewerOf(note), note])),
              reactions,
              onProgramme: until(onProgramme, atMs),
              practice,
            }
          : state,
    ),
    on(ChatActions.failed, (state, { error }): ChatState => ({
      ...state,
      error,
      status: state.status === 'known' ? 'known' : 'failed',
    })),
    on(ChatActions.added, (state, { showId, messages }) =>
      showId === state.showId ? withMessages(state, messages) : state,
    ),
    on(ChatActions.find, (state, { query }): ChatState => ({
      ...state,
      found: query && { query, messages: state.found?.messages ?? null, more: false },
    })),
    on(ChatActions.found, (state, { query, messages, more }) =>
      state.found?.query === query ? { ...state, found: { query, messages, more } } : state,
    ),
    on(ChatActions.earlierKnown, (state, { showId, messages, more }): ChatState =>
      showId === state.showId
        ? {
            ...state,
            moreBefore: more,
            messages: mergeWritten(state.messages, messages),
          }
        : state,
    ),
    on(ChatActions.readingBack, (state): ChatState => ({ ...state, most: MOST_WHILE_READING })),
    on(ChatActions.atNewest, (state): ChatState =>
      state.most === MOST_HELD
        ? state
        : {
            ...state,
            most: MOST_HELD,
            moreBefore: state.moreBefore || state.messages.length > MOST_HELD,
            messages: state.messages.slice(-MOST_HELD),
          },
    ),
    on(ChatActions.lineChanged, (state, { line }) =>
      line.showId === state.showId
        ? {
            ...state,
            lines: [...state.lines.filter((one) => one.destinationId !== line.destinationId), line],
          }
        : state,
    ),
    on(ChatActions.viewerNoted, (state, { note }): ChatState => ({
      ...state,
      notes: { ...state.notes, [viewerOf(note)]: note },
    })),
    on(ChatActions.reactionsCounted, (state, { showId, reactions }): ChatState =>
      showId === state.showId ? { ...state, reactions } : state,
    ),
    on(ChatActions.practiceChanged, (state, { showId, practice }) =>
      showId === state.showId ? withPractice(state, practice) : state,
    ),
    on(ChatActions.timesRighted, (state, { showId, destinationId, byMs }) =>
      showId === state.showId
        ? eachMessage(state, (message) => righted(message, destinationId, byMs))
        : state,
    ),
    on(ChatActions.floodChanged, (state, { flood }) => withFlood(state, flood)),
    on(ChatActions.floodAnswered, (state, { flood }): ChatState => ({
      ...withFlood(state, flood),
      busy: false,
    })),
    on(ChatActions.programmeSet, (state, { showId, onProgramme, atMs }) =>
      showId === state.showId ? { ...state, onProgramme: until(onProgramme, atMs) } : state,
    ),
    on(
      ChatActions.write,
      ChatActions.putOnProgramme,
      ChatActions.moderate,
      ChatActions.answerFlood,
      ChatActions.close,
      (state): ChatState => ({ ...state, busy: true, error: null, outcomes: [], lastAct: null }),
    ),
    on(ChatActions.moderated, (state, { messageId, act, messages, sentence }): ChatState => ({
      ...withMessages(state, messages),
      busy: false,
      lastAct: { messageId, act, sentence },
    })),
    on(ChatActions.written, (state, { outcomes }): ChatState => ({ ...state, busy: false, outcomes })),
    on(ChatActions.done, (state): ChatState => ({ ...state, busy: false })),
    on(ChatActions.refused, (state, { error }): ChatState => ({ ...state, busy: false, error })),
    on(TeamActions.signedOut, () => initial),
  ),
});
