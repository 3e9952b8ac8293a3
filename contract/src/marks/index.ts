import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, line, Nothing, right } from '../http';

export const MARK_WORDS_MAX = 120;

/** A moment of a show that somebody marked: to be found again, and to learn from what viewers write about it. */
export const Mark = z.object({
  id: Id,
  showId: Id,
  /** ms from the start of the show. */
  showTimeMs: z.int(),
  atMs: InstantMs,
  /** What it is; empty: nobody said. */
  words: z.string(),
  by: z.string(),
});
export type Mark = z.infer<typeof Mark>;

/** In the order of the show. */
const marks = z.object({ marks: z.array(Mark) });

/** Marks this moment of the show that is running. Asked again with the same id, the moment stays, and its words are these. */
export const putMark = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/marks/:markId',
  access: right('chat.write'),
  params: z.object({ showId: Id, markId: Id }),
  body: z.object({ words: line(MARK_WORDS_MAX, 0) }),
  response: marks,
});

export const removeMark = endpoint({
  method: 'DELETE',
  path: '/api/shows/:showId/marks/:markId',
  access: right('chat.write'),
  params: z.object({ showId: Id, markId: Id }),
  body: Nothing,
  response: marks,
});
