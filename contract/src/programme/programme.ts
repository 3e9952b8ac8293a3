import { MOST_DELAY_S, PICTURE_FORMATS } from '@juncta/core/programme';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, right } from '../http';
import { Mark } from '../marks';
import { Recording } from '../recordings';
import { ProgrammeReport } from '../relay';
import { Show } from '../shows';

/** Who composes a show's programme: one tab of one browser. It does so while the programme names its `deskId`. */
export const Composing = z.object({
  deskId: Id,
  memberName: z.string(),
  sinceMs: InstantMs,
});
export type Composing = z.infer<typeof Composing>;

/** All that a desk shows of the programme. Its feeds are in the report. */
export const ProgrammeView = z.object({
  /** Null while the relay does not answer. */
  programme: z.nullable(ProgrammeReport),
  /** As the relay told them last, also while it is away; in the order in which they were begun. */
  recordings: z.array(Recording),
  /** Moments that somebody marked, in the order of the show. */
  marks: z.array(Mark),
  /** Whoever did last; null when nobody ever has. */
  composing: z.nullable(Composing),
  /** When the programme report was made, by the relay's machine. */
  atMs: InstantMs,
  /** The last event of the show's stream `programme` that is contained. */
  seq: z.int(),
});
export type ProgrammeView = z.infer<typeof ProgrammeView>;

const params = z.object({ showId: Id });

export const readProgramme = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/programme',
  access: right('desk.open'),
  params,
  body: Nothing,
  response: ProgrammeView,
});

/**
 * Lets this tab compose the show. Another does: `composed_elsewhere`, with who it is as `current`, unless `takeOver`.
 * The same tab asked again gets a fresh ticket for the same composing, so a reload goes on where it was.
 */
export const compose = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/composing',
  access: right('show.run'),
  params,
  body: z.object({ deskId: Id, takeOver: z.boolean() }),
  response: z.object({
    /** For the relay: see `Ticket`. Asked for again every few minutes. */
    ticket: z.string(),
    /** The uplink, `ws(s)://…/uplink`. */
    uplinkUrl: z.string(),
  }),
});

/**
 * Holds the programme back before it goes out, so that something can still be taken out of it: the panic key drops what
 * waits. Settled before the first feed.
 */
export const setDelay = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/delay',
  access: right('show.run'),
  params,
  body: z.object({ delayS: z.int().check(z.minimum(0), z.maximum(MOST_DELAY_S)) }),
  response: Show,
});

/** Settles size and rate of the programme, before the first feed: no place takes another in mid-show. */
export const setPictureFormat = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/picture-format',
  access: right('show.run'),
  params,
  body: z.object({ pictureFormat: z.enum(PICTURE_FORMATS) }),
  response: Show,
});

/** Ends the show: every feed in good order, and the recording. */
export const endShow = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/end',
  access: right('show.run'),
  params,
  body: Nothing,
  response: ProgrammeReport,
});

/**
 * Puts a show that was started by mistake, and is over, back to where it was: planned. Its recordings and messages stay.
 * What its places made of it stays there; listings whose event is over are drafts again. For a day after its end.
 */
export const putBackShow = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/put-back',
  access: right('show.run'),
  params,
  body: Nothing,
  response: Show,
});

/** The panic key: the standby slate and silence at once, everywhere; and back. */
export const coverProgramme = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/cover',
  access: right('show.run'),
  params,
  body: z.object({ on: z.boolean() }),
  response: ProgrammeReport,
});
