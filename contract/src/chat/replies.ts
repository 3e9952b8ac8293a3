import * as z from 'zod/mini';
import { endpoint, Id, paragraphs, right } from '../http';
import { ANSWER_MAX } from './limits';

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
  params: z.object({ showId: Id }),
  body: z.object({
    id: Id,
    text: paragraphs(ANSWER_MAX).check(z.minLength(1)),
    replyTo: z.nullable(Id),
  }),
  response: z.object({ outcomes: z.array(AnswerOutcome) }),
});
