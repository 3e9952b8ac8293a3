import * as z from 'zod/mini';
import { endpoint, Id, paragraphs, right } from '../http';

/** A message on the programme, as a lower third; it leaves by itself, or when somebody takes it off. */
export const OnProgramme = z.object({
  messageId: Id,
  author: z.string(),
  destinationId: Id,
  text: z.string(),
  /** How much longer it stays, from when this was told, ms; null: until it is taken off. */
  remainingMs: z.nullable(z.int()),
});
export type OnProgramme = z.infer<typeof OnProgramme>;

/** More does not fit on a screen that people listen to as well. */
export const ON_PROGRAMME_MAX = 280;

export const ON_PROGRAMME_SECONDS = { min: 3, max: 60, usual: 10 } as const;

/** Puts a message on the programme for some seconds, or until it is taken off; or takes off what is there. */
export const setOnProgramme = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/on-programme',
  access: right('chat.write'),
  params: z.object({ showId: Id }),
  body: z.object({
    messageId: z.nullable(Id),
    /** Null: until it is taken off. */
    seconds: z.nullable(
      z.number().check(z.minimum(ON_PROGRAMME_SECONDS.min), z.maximum(ON_PROGRAMME_SECONDS.max)),
    ),
    /** As it is to stand on the screen; missing: as it was written. The message itself stays as it is. */
    text: z.optional(paragraphs(ON_PROGRAMME_MAX).check(z.minLength(1))),
  }),
  response: z.object({ onProgramme: z.nullable(OnProgramme) }),
});
