import { ABOUT_MAX, DESCRIPTION_MAX, NAME_MAX, PEOPLE_MAX, TITLE_MAX } from '@juncta/core/shows';
import { PICTURE_FORMATS } from '@juncta/core/programme';
import * as z from 'zod/mini';
import { SettingValues, WrittenSettings } from '../destinations/capabilities';
import { Picture } from '../listings/pictures';
import { anybody, endpoint, Id, InstantMs, line, Nothing, paragraphs, right } from '../http';

export * from './scope';

export const PARTS = ['host', 'producer', 'moderator', 'guest'] as const;
export type Part = (typeof PARTS)[number];

/** Wall time in a zone; what is wrong with one is said by `resolveStart` in core. */
export const Start = z.object({
  local: z.string().check(z.maxLength(40)),
  zone: z.string().check(z.maxLength(80)),
  fold: z.enum(['earlier', 'later']),
});
export type Start = z.infer<typeof Start>;

/** Somebody in a show: a member of the team, or a guest of this show. */
export const ShowPerson = z.object({
  /** Stays the same while the show is edited; a guest's link hangs on it. Made by whoever adds the person. */
  id: Id,
  /** Null for guests. */
  memberId: z.nullable(Id),
  name: line(NAME_MAX),
  part: z.enum(PARTS),
  /** Who they are, in a few words; may be empty. */
  about: line(ABOUT_MAX, 0),
});
export type ShowPerson = z.infer<typeof ShowPerson>;

/** What people write about a show: the part that two editors can have different ideas of. */
export const ShowText = z.object({
  title: line(TITLE_MAX),
  description: paragraphs(DESCRIPTION_MAX),
  seriesId: z.nullable(Id),
  /** Null while no time is set. */
  start: z.nullable(Start),
  /** Minutes from start to end as planned, 5 to 1,500. */
  plannedMinutes: z.int().check(z.minimum(5), z.maximum(1500)),
  people: z.array(ShowPerson).check(z.maxLength(PEOPLE_MAX)),
});
export type ShowText = z.infer<typeof ShowText>;

/** The fields of {@link ShowText}, in the order in which they are shown. */
export const SHOW_FIELDS = [
  'title',
  'seriesId',
  'start',
  'plannedMinutes',
  'description',
  'people',
] as const satisfies readonly (keyof ShowText)[];

export const Show = z.object({
  id: Id,
  /** Counts the saves, from 1. */
  version: z.int(),
  text: ShowText,
  /** The instant of `text.start`; null while none is set. */
  startsAtMs: z.nullable(InstantMs),
  /** When the programme went out, and when that ended. */
  startedAtMs: z.nullable(InstantMs),
  endedAtMs: z.nullable(InstantMs),
  archivedAtMs: z.nullable(InstantMs),
  /** The last save. The name is null when that member has been removed. */
  editedAtMs: InstantMs,
  editedBy: z.nullable(z.string()),
  /** The picture that all listings share; null: none. */
  picture: z.nullable(Picture),
  /** Settings that all listings share, unless one has its own. */
  shared: SettingValues,
  /** How long the programme is held back before it goes out, s. */
  delayS: z.int(),
  /** Size and rate of its programme. */
  pictureFormat: z.enum(PICTURE_FORMATS),
});
export type Show = z.infer<typeof Show>;

/** When a series is on: RFC 5545, 3.8.5.3, by the wall clock of the first start. */
export const Recurrence = z.object({
  /** As in `FREQ=WEEKLY;BYDAY=TH`. */
  rule: z.string().check(z.maxLength(300)),
  /** The first. */
  start: Start,
});
export type Recurrence = z.infer<typeof Recurrence>;

export const Series = z.object({
  id: Id,
  name: z.string(),
  /** Null: its shows are planned one by one. */
  recurrence: z.nullable(Recurrence),
  /** Always leads to the show that is on or comes next. */
  evergreenUrl: z.string(),
});
export type Series = z.infer<typeof Series>;

const showParams = z.object({ showId: Id });

/** All shows of the team, archived ones too, in no order. A team has hundreds at most. */
export const listShows = endpoint({
  method: 'GET',
  path: '/api/shows',
  access: right('shows.read'),
  params: Nothing,
  body: Nothing,
  response: z.object({
    shows: z.array(Show),
    series: z.array(Series),
    /** The number of the last event of the stream `shows` that is contained in this answer. */
    seq: z.int(),
  }),
});

/** Makes a show. Asked twice with one id, it is made once: a lost answer can be asked for again. */
export const createShow = endpoint({
  method: 'POST',
  path: '/api/shows',
  access: right('shows.create'),
  params: Nothing,
  body: z.object({ id: Id, text: ShowText }),
  response: Show,
});

/**
 * Saves a show that was read at `version`. Somebody saved in between: `changed_meanwhile`, with the show as it
 * is now, and nothing is written. The very same save sent twice succeeds twice.
 */
export const saveShow = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId',
  access: right('shows.edit'),
  params: showParams,
  body: z.object({ version: z.int(), text: ShowText }),
  response: Show,
});

/** Lays down what all listings of a show share. Changes the settings that are named; null takes one away. */
export const saveSharedSettings = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/shared-settings',
  access: right('shows.edit'),
  params: showParams,
  body: z.object({ settings: WrittenSettings }),
  response: Show,
});

/** Why something was not carried over into the next show; see `NotCarried` in core. */
export const NOT_CARRIED = ['links', 'fixed_slots', 'start_skipped', 'no_start', 'people'] as const;

/**
 * Makes the next show from this one: its texts, people, destinations and listings are carried; events, links, keys and
 * dates are new. Asked twice with one id, it is made once.
 */
export const makeNextShow = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/next',
  access: right('shows.create'),
  params: showParams,
  body: z.object({
    id: Id,
    /** When it starts; missing: at the series' next date, or a week later at the same time. */
    start: z.optional(Start),
  }),
  response: z.object({ show: Show, notCarried: z.array(z.enum(NOT_CARRIED)) }),
});

/** Puts a show out of the way, or back. Nothing is deleted. */
export const archiveShow = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/archived',
  access: right('shows.archive'),
  params: showParams,
  body: z.object({ archived: z.boolean() }),
  response: Show,
});

export const createSeries = endpoint({
  method: 'POST',
  path: '/api/series',
  access: right('shows.create'),
  params: Nothing,
  body: z.object({ id: Id, name: line(NAME_MAX) }),
  response: Series,
});

/** Lays down when a series is on; null: its shows are planned one by one. Nothing that is planned changes. */
export const setRecurrence = endpoint({
  method: 'PUT',
  path: '/api/series/:seriesId/recurrence',
  access: right('shows.edit'),
  params: z.object({ seriesId: Id }),
  body: z.object({ recurrence: z.nullable(Recurrence) }),
  response: Series,
});

/** What anybody is told who follows the evergreen link of a series. Nothing that is not public already. */
export const Evergreen = z.object({
  series: z.string(),
  /** The show that is on, or the next one; null: none is planned. */
  show: z.nullable(
    z.object({
      title: z.string(),
      startsAtMs: InstantMs,
      zone: z.string(),
      onAir: z.boolean(),
      /** Where it can be watched or found, as far as it is known. */
      places: z.array(z.object({ name: z.string(), code: z.string(), url: z.string() })),
    }),
  ),
});
export type Evergreen = z.infer<typeof Evergreen>;

export const readEvergreen = endpoint({
  method: 'GET',
  path: '/api/evergreen/:slug',
  access: anybody,
  params: z.object({ slug: z.string().check(z.maxLength(200)) }),
  body: Nothing,
  response: Evergreen,
});
