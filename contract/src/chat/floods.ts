import { FLOOD_ANSWERS } from '@juncta/core/chat';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, right } from '../http';

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
