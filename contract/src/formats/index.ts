import { NAME_MAX, PEOPLE_MAX, TITLE_MAX, ABOUT_MAX, DESCRIPTION_MAX } from '@juncta/core/shows';
import { PICTURE_FORMATS } from '@juncta/core/programme';
import * as z from 'zod/mini';
import { WrittenSettings } from '../destinations/capabilities';
import { endpoint, Id, line, Nothing, paragraphs, right } from '../http';
import { LISTING_DESCRIPTION_MAX, LISTING_TITLE_MAX, Slot } from '../listings';
import { PARTS, Show, Start } from '../shows';

/** Shows and listings as files that other programs can read and write. */

export const SHOW_FILE_FORMAT = 'juncta.show' as const;
export const SHOW_FILE_VERSION = 1 as const;

/**
 * A show as a file (RFC 8259): what people wrote about it and its listings, without keys, links, pictures or anything
 * that belongs to one house. Its JSON Schema is at `GET /api/formats/show.schema.json`.
 */
export const ShowFile = z.object({
  format: z.literal(SHOW_FILE_FORMAT),
  version: z.literal(SHOW_FILE_VERSION),
  title: line(TITLE_MAX),
  description: paragraphs(DESCRIPTION_MAX),
  /** The name of its series; null: none. */
  series: z.nullable(line(NAME_MAX)),
  start: z.nullable(Start),
  plannedMinutes: z.int().check(z.minimum(5), z.maximum(1500)),
  people: z
    .array(z.object({ name: line(NAME_MAX), part: z.enum(PARTS), about: line(ABOUT_MAX, 0) }))
    .check(z.maxLength(PEOPLE_MAX)),
  /** Size and rate of its programme; missing in files of before there was a choice. */
  pictureFormat: z.optional(z.enum(PICTURE_FORMATS)),
  /** Settings that all listings share; missing in files of before there were such. */
  shared: z.optional(WrittenSettings),
  listings: z
    .array(
      z.object({
        /** The destination's name in the house that wrote it. */
        destination: line(NAME_MAX),
        /** The place's name. */
        place: line(NAME_MAX),
        title: z.nullable(line(LISTING_TITLE_MAX)),
        description: z.nullable(paragraphs(LISTING_DESCRIPTION_MAX)),
        slot: Slot,
        settings: WrittenSettings,
      }),
    )
    .check(z.maxLength(50)),
});
export type ShowFile = z.infer<typeof ShowFile>;

const showParams = z.object({ showId: Id });

export const writeShowFile = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/file',
  access: right('shows.read'),
  params: showParams,
  body: Nothing,
  response: ShowFile,
});

/**
 * Makes a show of a file. Asked twice with one id, it is made once. Destinations, series and members are found by their
 * names; those that are not in this house are told.
 */
export const readShowFile = endpoint({
  method: 'POST',
  path: '/api/shows/file',
  access: right('shows.create'),
  params: Nothing,
  body: z.object({ id: Id, file: z.unknown() }),
  response: z.object({
    show: Show,
    notHere: z.array(
      z.object({ what: z.enum(['destination', 'series', 'person', 'setting']), name: z.string() }),
    ),
  }),
});

/** The listings of a show as a table (RFC 4180), for working on all at once. */
export const writeListingsTable = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/listings/table',
  access: right('shows.read'),
  params: showParams,
  body: Nothing,
  response: z.object({ csv: z.string() }),
});

/** Takes over a table. With anything wrong in it nothing is changed, and each fault is told by row and column. */
export const readListingsTable = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/listings/table',
  access: right('shows.edit'),
  params: showParams,
  body: z.object({ csv: z.string().check(z.maxLength(200_000)) }),
  response: z.object({ rows: z.int() }),
});
