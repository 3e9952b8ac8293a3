import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';

/** How viewers wrote over the time of a show, and how they were answered. */
export const ChatFigures = z.object({
  /** Viewers' messages by the minute of the show that their writers were watching, from 0; minutes without are missing. */
  minutes: z.array(z.object({ destinationId: Id, minute: z.int(), messages: z.int() })),
  /** What viewers pressed, by the minute of the show they were watching; minutes without are missing. */
  reactionMinutes: z.array(z.object({ minute: z.int(), reactions: z.int() })),
  /** By viewers, whenever they were written. */
  messages: z.int(),
  writers: z.int(),
  /** Of the writers those who wrote in another show before. */
  returning: z.int(),
  /** Told by places. */
  followers: z.int(),
  sales: z.int(),
  reactions: z.int(),
  /** Lined up or answered, and by how many. */
  questions: z.int(),
  askers: z.int(),
  answered: z.int(),
  /** Set aside or hidden in the end. */
  notShown: z.int(),
  /** From a viewer's message to the house's first answer to it, s; half were faster. Null: none was answered in writing. */
  responseP50S: z.nullable(z.number()),
});
export type ChatFigures = z.infer<typeof ChatFigures>;

export const readChatFigures = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat/figures',
  access: right('chat.read'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: ChatFigures,
});
