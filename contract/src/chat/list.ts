import { CHAT_LINE_STATES } from '@juncta/core/chat';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, right } from '../http';
import { ChatFlood } from './floods';
import { ChatMessage } from './messages';
import { OnProgramme } from './on-programme';
import { Practice } from './practice';
import { Reactions } from './reactions';
import { ViewerNote } from './viewers';

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

/** The newest messages of a show, in the order of writing, and the lines to its destinations. */
export const readChat = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat',
  access: right('chat.read'),
  params: z.object({ showId: Id }),
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
  params: z.object({ showId: Id }),
  body: ChatQuery,
  response: z.object({
    messages: z.array(ChatMessage),
    /** There are more before them. */
    more: z.boolean(),
  }),
});

/** Stops following the chats of a show that is over. */
export const closeChat = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/chat/close',
  access: right('show.run'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: Nothing,
});
