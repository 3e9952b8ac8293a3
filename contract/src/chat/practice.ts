import type { PracticeSpeed } from '@juncta/core/chat';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, right } from '../http';

/** Heavier files are refused at the door. */
export const PRACTICE_MAX_BYTES = 8 * 1024 * 1024;

/** Messages of another evening that are given once more, for moderators to practise on. Nothing of it leaves the house. */
export const Practice = z.object({
  /** The name of whoever began it. */
  by: z.string(),
  startedMs: InstantMs,
  /** Times as fast as it was. */
  speed: z.number(),
  messages: z.int(),
  /** How many of them have come. */
  given: z.int(),
});
export type Practice = z.infer<typeof Practice>;

/** What was done with the messages of a practice, beside what was done with the same ones that evening. */
export const PracticeOutcome = z.object({
  given: z.int(),
  /** Set aside or hidden that evening, of those that were given. */
  notShownThen: z.int(),
  /** Of these, set aside or hidden now too. */
  notShownBoth: z.int(),
  /** All that are set aside or hidden now. */
  notShownNow: z.int(),
  askedThen: z.int(),
  askedBoth: z.int(),
  askedNow: z.int(),
});
export type PracticeOutcome = z.infer<typeof PracticeOutcome>;

/**
 * Where a practice is begun: `PUT` with a file of messages as JSON lines, as they are saved from a show, as the body, and
 * answered with a {@link Practice}. Possible while no chat of the show is open.
 */
export const practicePath = (showId: string, speed: PracticeSpeed) =>
  `/api/shows/${showId}/chat/practice/${speed}`;

/** Ends a practice, and takes all away that came with it. */
export const endPractice = endpoint({
  method: 'DELETE',
  path: '/api/shows/:showId/chat/practice',
  access: right('chat.write'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: z.object({ outcome: PracticeOutcome }),
});
