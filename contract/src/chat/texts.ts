import * as z from 'zod/mini';
import { endpoint, Id, Nothing, paragraphs, right } from '../http';
import { ANSWER_MAX } from './limits';

/** A text that the house keeps ready, with placeholders in braces. */
export const HouseText = z.object({ id: Id, text: paragraphs(ANSWER_MAX).check(z.minLength(1)) });
export type HouseText = z.infer<typeof HouseText>;
const houseTexts = z.object({
  texts: z.array(HouseText).check(z.maxLength(50)),
  /** Another one after every change. */
  version: z.string(),
});

export const readHouseTexts = endpoint({
  method: 'GET',
  path: '/api/chat-texts',
  access: right('chat.read'),
  params: Nothing,
  body: Nothing,
  response: houseTexts,
});

/**
 * The whole list, in its order, with the version that it was made of. Refused with `changed_meanwhile` when somebody else
 * changed it since.
 */
export const saveHouseTexts = endpoint({
  method: 'PUT',
  path: '/api/chat-texts',
  access: right('chat.write'),
  params: Nothing,
  body: houseTexts,
  response: houseTexts,
});

export const TIMED_STATES = ['waiting', 'sent', 'partly', 'missed'] as const;

const when = z.object({
  kind: z.enum(['before', 'show']),
  seconds: z.int().check(z.minimum(0), z.maximum(24 * 3600)),
});

/** A text that is written to viewers everywhere by itself, at its time. */
export const TimedText = z.object({
  id: Id,
  text: z.string(),
  when,
  /** `partly`: not every place took it; `missed`: its time had gone by. */
  state: z.enum(TIMED_STATES),
  /** What went wrong; null: nothing. */
  sentence: z.nullable(z.string()),
});
export type TimedText = z.infer<typeof TimedText>;

const showParams = z.object({ showId: Id });
const timed = z.object({ timed: z.array(TimedText) });

export const readTimedTexts = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat/timed',
  access: right('chat.read'),
  params: showParams,
  body: Nothing,
  response: timed,
});

/** Those that wait become these; what was written stays. */
export const saveTimedTexts = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/chat/timed',
  access: right('chat.write'),
  params: showParams,
  body: z.object({
    timed: z
      .array(z.object({ id: Id, text: paragraphs(ANSWER_MAX).check(z.minLength(1)), when }))
      .check(z.maxLength(30)),
  }),
  response: timed,
});
