import { RULE_ACTIONS, RULE_KINDS } from '@juncta/core/chat';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, paragraphs, right } from '../http';

export const STANDINGS = ['shown', 'aside', 'hidden'] as const;
export const QUESTION_STATES = ['none', 'lined_up', 'answered'] as const;

/** What a viewer, or the house, wrote at one destination. Viewers' text is text, whatever is in it. */
export const ChatMessage = z.object({
  id: Id,
  showId: Id,
  destinationId: Id,
  author: z.object({
    /** The place's own id of them. */
    id: z.string(),
    name: z.string(),
    /** It is the house itself. */
    owner: z.boolean(),
  }),
  text: z.string(),
  /** By the place's clock. */
  writtenAtMs: InstantMs,
  /** The moment of the show its writer was watching, ms; null before the picture and after it. */
  showTimeMs: z.nullable(z.int()),
  /** The message it answers, if we have that. */
  replyTo: z.nullable(Id),
  /** Whoever of the team wrote it from here. */
  sentBy: z.nullable(z.string()),
  /** `aside`: it waits for a person; `hidden`: nobody of ours shows it. */
  standing: z.enum(STANDINGS),
  /** Who or which rule made it so; null: nobody did anything. */
  by: z.nullable(z.string()),
  /** Hidden at its place, too: `true` once the place says so, `false` where that was not possible; null: not asked. */
  hiddenThere: z.nullable(z.boolean()),
  /** Viewers' messages that are lined up to be answered. */
  question: z.enum(QUESTION_STATES),
});
export type ChatMessage = z.infer<typeof ChatMessage>;

export const CHAT_LINE_STATES = ['closed', 'connecting', 'open', 'lost', 'refused'] as const;

/** The line to one destination's chat. */
export const ChatLine = z.object({
  showId: Id,
  destinationId: Id,
  /** `lost`: being made again; `refused`: the place says no, and a person has to look. */
  state: z.enum(CHAT_LINE_STATES),
  /** The place's or our words for it; null while it is open or closed. */
  sentence: z.nullable(z.string()),
});
export type ChatLine = z.infer<typeof ChatLine>;

/** A message on the programme, as a lower third; it leaves by itself. */
export const OnProgramme = z.object({
  messageId: Id,
  author: z.string(),
  destinationId: Id,
  text: z.string(),
  /** How much longer it stays, from when this was told, ms. */
  remainingMs: z.int(),
});
export type OnProgramme = z.infer<typeof OnProgramme>;

/** Longer than any place takes. */
export const ANSWER_MAX = 2000;
export const ON_PROGRAMME_SECONDS = { min: 3, max: 60, usual: 10 } as const;

const showParams = z.object({ showId: Id });

/** The newest messages of a show, in the order of writing, and the lines to its destinations. */
export const readChat = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat',
  access: right('chat.read'),
  params: showParams,
  body: Nothing,
  response: z.object({
    messages: z.array(ChatMessage),
    lines: z.array(ChatLine),
    onProgramme: z.nullable(OnProgramme),
    /** The last event of the stream `chat` that is contained. */
    seq: z.int(),
  }),
});

export const AnswerOutcome = z.object({
  destinationId: Id,
  sent: z.boolean(),
  /** Why not, and what to do; null when it was sent. */
  sentence: z.nullable(z.string()),
});
export type AnswerOutcome = z.infer<typeof AnswerOutcome>;

/**
 * Writes at the places. With `replyTo` where that was asked, otherwise at every open chat that takes writing. Asked
 * again with the same id, only what was not sent is sent.
 */
export const writeChat = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/chat',
  access: right('chat.write'),
  params: showParams,
  body: z.object({
    id: Id,
    text: paragraphs(ANSWER_MAX).check(z.minLength(1)),
    replyTo: z.nullable(Id),
  }),
  response: z.object({ outcomes: z.array(AnswerOutcome) }),
});

/**
 * What a moderator does with a message. `let_through`, `set_aside`, `line_up`, `answered` and `unline` stay in the
 * house; `hide` goes out to the place where it can do that, and holds for ourselves in any case. `mute` hides, for
 * ourselves, what this author wrote and will write; `unmute` lets them be seen again.
 */
export const CHAT_ACTS = [
  'let_through',
  'set_aside',
  'hide',
  'mute',
  'unmute',
  'line_up',
  'answered',
  'unline',
] as const;
export type ChatAct = (typeof CHAT_ACTS)[number];

export const moderate = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/chat/:messageId/acts',
  access: right('chat.write'),
  params: z.object({ showId: Id, messageId: Id }),
  body: z.object({ act: z.enum(CHAT_ACTS) }),
  response: z.object({
    /** All that are otherwise now. */
    messages: z.array(ChatMessage),
    /** What the place did not do, and what that means; null: all of it was done. */
    sentence: z.nullable(z.string()),
  }),
});

/** One line of the log of what was done with messages. */
export const ChatActNoted = z.object({
  atMs: InstantMs,
  act: z.enum([...CHAT_ACTS, 'rule_aside', 'rule_hide']),
  /** A name, or the rule's kind. */
  by: z.string(),
  author: z.string(),
  text: z.string(),
});
export type ChatActNoted = z.infer<typeof ChatActNoted>;

/** The newest first. */
export const readChatLog = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat/log',
  access: right('chat.read'),
  params: showParams,
  body: Nothing,
  response: z.object({ log: z.array(ChatActNoted) }),
});

export const ChatRule = z.object({
  kind: z.enum(RULE_KINDS),
  action: z.enum(RULE_ACTIONS),
  on: z.boolean(),
  list: z.array(z.string().check(z.maxLength(200))).check(z.maxLength(500)),
  most: z.int().check(z.minimum(0), z.maximum(10_000)),
});
const rules = z.object({ rules: z.array(ChatRule).check(z.maxLength(RULE_KINDS.length)) });

/** The house's, for all shows. */
export const readChatRules = endpoint({
  method: 'GET',
  path: '/api/chat-rules',
  access: right('chat.read'),
  params: Nothing,
  body: Nothing,
  response: rules,
});

export const saveChatRules = endpoint({
  method: 'PUT',
  path: '/api/chat-rules',
  access: right('chat.write'),
  params: Nothing,
  body: rules,
  response: rules,
});

/** What these rules would have done with what viewers of a show wrote: nothing is changed. */
export const tryChatRules = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/chat/try-rules',
  access: right('chat.read'),
  params: showParams,
  body: rules,
  response: z.object({
    messages: z.int(),
    caught: z.array(
      z.object({
        kind: z.enum(RULE_KINDS),
        action: z.enum(RULE_ACTIONS),
        author: z.string(),
        text: z.string(),
      }),
    ),
  }),
});

/** Puts a message on the programme for some seconds, or takes off what is there. */
export const setOnProgramme = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/on-programme',
  access: right('chat.write'),
  params: showParams,
  body: z.object({
    messageId: z.nullable(Id),
    seconds: z.number().check(z.minimum(ON_PROGRAMME_SECONDS.min), z.maximum(ON_PROGRAMME_SECONDS.max)),
  }),
  response: z.object({ onProgramme: z.nullable(OnProgramme) }),
});

/** Stops following the chats of a show that is over. */
export const closeChat = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/chat/close',
  access: right('show.run'),
  params: showParams,
  body: Nothing,
  response: Nothing,
});
