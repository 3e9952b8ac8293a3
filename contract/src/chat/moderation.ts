import { CHAT_ACTS } from '@juncta/core/chat';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, right } from '../http';
import { ChatMessage } from './messages';

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
  params: z.object({ showId: Id }),
  body: Nothing,
  response: z.object({ log: z.array(ChatActNoted) }),
});
