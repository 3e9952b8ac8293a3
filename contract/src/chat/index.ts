import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, paragraphs, right } from '../http';
import { ANSWER_MAX } from './limits';
import { Practice } from './practice';
import { Reactions } from './reactions';
import { ViewerNote } from './viewers';

export * from './figures';
export * from './limits';
export * from './practice';
export * from './reactions';
export * from './rules';
export * from './texts';
export * from './viewers';

export const STANDINGS = ['shown', 'aside', 'hidden'] as const;
export const QUESTION_STATES = ['none', 'lined_up', 'answered'] as const;
/** `private`: to the house alone; `follow` and `sale`: what the place tells of a viewer, in its words. */
export const MESSAGE_KINDS = ['message', 'private', 'follow', 'sale'] as const;
/** What only the host has to know of: told, and seen by whoever is host. */
export const FOR_HOST_STATES = ['none', 'told', 'seen'] as const;

/** What a viewer, or the house, wrote at one destination. Viewers' text is text, whatever is in it. */
export const ChatMessage = z.object({
  id: Id,
  showId: Id,
  destinationId: Id,
  kind: z.enum(MESSAGE_KINDS),
  author: z.object({
    /** The place's own id of them. */
    id: z.string(),
    name: z.string(),
    /** It is the house itself. */
    owner: z.boolean(),
    /** What their place shows beside the name, in its words. */
    badges: z.array(z.string()),
    /** Age of their account there, days; null: the place does not say. */
    accountDays: z.nullable(z.int()),
    /** In how many other shows of ours they wrote at this destination before. */
    otherShows: z.int(),
  }),
  /** The first of its writer in this show. */
  first: z.boolean(),
  text: z.string(),
  /** When its writer changed it over there; null: it is as it was written. */
  editedAtMs: z.nullable(InstantMs),
  /** Its writer, or their place, took it back. What it said is kept for the team, and shown nowhere else. */
  takenBack: z.boolean(),
  /** By the place's clock. */
  writtenAtMs: InstantMs,
  /** The moment of the show its writer was watching, ms; null before the picture and after it. */
  showTimeMs: z.nullable(z.int()),
  /** That moment is known by the house rule for the place only: about. */
  showTimeAbout: z.boolean(),
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
  forHost: z.enum(FOR_HOST_STATES),
  /** The flood it is part of; null: none. */
  flood: z.nullable(Id),
  /** Whoever of the team is about to deal with it; null: nobody, or not for some minutes. */
  takenBy: z.nullable(z.object({ memberId: Id, name: z.string() })),
  /** It came with a practice, and goes with it. */
  practice: z.boolean(),
});
export type ChatMessage = z.infer<typeof ChatMessage>;

/** `open`: nobody has said yet what it is; `aside`: all of it is set aside; `let_be`: somebody said that it is none. */
export const FLOOD_ANSWERS = ['open', 'aside', 'let_be'] as const;

/** Many messages at once that say the same or come from a few who do not stop, found by themselves. */
export const ChatFlood = z.object({
  id: Id,
  showId: Id,
  sinceMs: InstantMs,
  /** Null: it is still coming. */
  endedMs: z.nullable(InstantMs),
  messages: z.int(),
  writers: z.int(),
  destinationIds: z.array(Id),
  /** What most of it says, the most frequent first: up to three. */
  samples: z.array(z.string()),
  answer: z.enum(FLOOD_ANSWERS),
  answeredBy: z.nullable(z.string()),
});
export type ChatFlood = z.infer<typeof ChatFlood>;

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

/** More does not fit on a screen that people listen to as well. */
export const ON_PROGRAMME_MAX = 280;
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
    /** Those that are coming, and those of late, the newest first. */
    floods: z.array(ChatFlood),
    /** On whoever wrote in this show. */
    notes: z.array(ViewerNote),
    reactions: Reactions,
    /** There are more before the first of them. */
    more: z.boolean(),
    onProgramme: z.nullable(OnProgramme),
    practice: z.nullable(Practice),
    /** The last event of the stream `chat` that is contained. */
    seq: z.int(),
  }),
});

/** So many are given at once. */
export const FOUND_PAGE = 200;

/** What is looked for; null: whatever it is. */
export const ChatQuery = z.object({
  /** In the text or the writer's name, without regard to capitals. */
  text: z.string().check(z.maxLength(200)),
  destinationId: z.nullable(Id),
  kind: z.nullable(
    z.enum(['viewers', 'house', 'questions', 'answered', 'not_shown', 'private', 'events', 'first']),
  ),
  /** From this moment of the show on, ms. */
  fromShowTimeMs: z.nullable(z.int()),
  /** Only what stands before this one in the order of writing. */
  before: z.nullable(z.object({ writtenAtMs: InstantMs, id: Id })),
});
export type ChatQuery = z.infer<typeof ChatQuery>;
export const ANYTHING: ChatQuery = {
  text: '',
  destinationId: null,
  kind: null,
  fromShowTimeMs: null,
  before: null,
};

/** Finds among all messages of a show: those that stand last, in the order of writing. */
export const findMessages = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/chat/find',
  access: right('chat.read'),
  params: showParams,
  body: ChatQuery,
  response: z.object({
    messages: z.array(ChatMessage),
    /** There are more before them. */
    more: z.boolean(),
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
 * ourselves, what this author wrote and will write; `unmute` lets them be seen again. `ban` mutes, and shuts them out at
 * their place where it can do that; `unban` takes both back. `take` tells the others that somebody is about to deal with
 * it, `release` that they are not; whatever is done with it releases it. `tell_host` puts it before the host, and nobody
 * else, until `host_seen`.
 */
export const CHAT_ACTS = [
  'let_through',
  'set_aside',
  'hide',
  'mute',
  'unmute',
  'ban',
  'unban',
  'line_up',
  'answered',
  'unline',
  'tell_host',
  'host_seen',
  'take',
  'release',
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

/** Who may write how often at a place; null: the place offers nothing like it from outside. */
export const PlaceChatRules = z.object({
  /** s between two messages of one writer; 0: as often as they like. */
  slowSeconds: z.nullable(z.int().check(z.minimum(0), z.maximum(3600))),
  followersOnly: z.nullable(z.boolean()),
  /** A writer's account has to be so old, days; 0: any may. */
  accountDays: z.nullable(z.int().check(z.minimum(0), z.maximum(365))),
});
export type PlaceChatRules = z.infer<typeof PlaceChatRules>;

/** What one place of a show allows its viewers to write, as it says itself. */
export const PlaceChat = z.object({
  destinationId: Id,
  /** Null: nothing can be set there from outside, or it did not answer. */
  rules: z.nullable(PlaceChatRules),
  /** The most that the place takes of each. */
  most: z.object({ slowSeconds: z.int(), accountDays: z.int() }),
  /** Why there is nothing to set, or what went wrong; null: all is well. */
  sentence: z.nullable(z.string()),
});
export type PlaceChat = z.infer<typeof PlaceChat>;

/** The rules of the places whose chats are open, asked for there and then. */
export const readPlaceChats = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat/places',
  access: right('chat.read'),
  params: showParams,
  body: Nothing,
  response: z.object({ places: z.array(PlaceChat) }),
});

/** Sets a place's rules, those that are not null, and reads them back. */
export const writePlaceChat = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/chat/places/:destinationId',
  access: right('chat.write'),
  params: z.object({ showId: Id, destinationId: Id }),
  body: z.object({ rules: PlaceChatRules }),
  response: z.object({ place: PlaceChat }),
});

/**
 * What a flood is: with `aside` all of it is set aside in one step, and so is what still comes of it; with `let_be` all
 * of that is shown again. Messages that a person or a rule dealt with stay as they are.
 */
export const answerFlood = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/chat/floods/:floodId',
  access: right('chat.write'),
  params: z.object({ showId: Id, floodId: Id }),
  body: z.object({ answer: z.enum(['aside', 'let_be']) }),
  response: z.object({ flood: ChatFlood }),
});

/** One line of the log of what was done with messages. */
export const ChatActNoted = z.object({
  atMs: InstantMs,
  act: z.enum([...CHAT_ACTS, 'rule_aside', 'rule_hide', 'flood_aside', 'flood_let_be']),
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

/** Puts a message on the programme for some seconds, or takes off what is there. */
export const setOnProgramme = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/on-programme',
  access: right('chat.write'),
  params: showParams,
  body: z.object({
    messageId: z.nullable(Id),
    seconds: z.number().check(z.minimum(ON_PROGRAMME_SECONDS.min), z.maximum(ON_PROGRAMME_SECONDS.max)),
    /** As it is to stand on the screen; missing: as it was written. The message itself stays as it is. */
    text: z.optional(paragraphs(ON_PROGRAMME_MAX).check(z.minLength(1))),
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
