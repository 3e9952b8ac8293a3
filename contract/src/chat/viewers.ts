import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, paragraphs, right } from '../http';

export const NOTE_MAX = 500;

/** What the team keeps in mind about a viewer, at one destination and over all shows. No viewer ever sees it. */
export const ViewerNote = z.object({
  destinationId: Id,
  /** The place's own id of them. */
  authorId: z.string(),
  note: z.string(),
  /** Whoever of the team wrote it last. */
  by: z.string(),
  atMs: InstantMs,
});
export type ViewerNote = z.infer<typeof ViewerNote>;

const params = z.object({ showId: Id, messageId: Id });

/** Whoever wrote a message: what they wrote in other shows, and what the team noted. */
export const ViewerCard = z.object({
  /** Other shows in which they wrote at this destination, the latest first. */
  shows: z.array(
    z.object({
      showId: Id,
      title: z.string(),
      /** Of their first message there. */
      atMs: InstantMs,
      messages: z.int(),
    }),
  ),
  /** How many of their messages people or rules hid, over all shows. */
  hidden: z.int(),
  note: z.nullable(ViewerNote),
});
export type ViewerCard = z.infer<typeof ViewerCard>;

export const readViewer = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/chat/:messageId/viewer',
  access: right('chat.read'),
  params,
  body: Nothing,
  response: ViewerCard,
});

/** Notes something about whoever wrote a message; an empty note takes away what was noted. */
export const noteViewer = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/chat/:messageId/viewer/note',
  access: right('chat.write'),
  params,
  body: z.object({ note: paragraphs(NOTE_MAX) }),
  response: z.object({ note: ViewerNote }),
});
