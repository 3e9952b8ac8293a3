import {
  BACKDROPS,
  BORDERS,
  BUG_MAX,
  COLOUR_PATTERN,
  FACES,
  MANNERS,
  OWN_FACE_NAME_MAX,
  PLAIN_DRESSING,
  ROUNDINGS,
  SLATE_MAX,
  SPACES,
  type Dressing as DressingShape,
  type DressingImage as DressingImageShape,
  type OwnFace as OwnFaceShape,
} from '@juncta/core/dressing';
import { CORNERS } from '@juncta/core/stage';
import * as z from 'zod/mini';
import { endpoint, Id, line, Nothing, right } from '../http';
import { ShowScope } from '../shows/scope';

const colour = z.string().check(z.regex(COLOUR_PATTERN));
/** The file itself is the body of a `PUT`, its name in the query; each is then read at its own address. WOFF2 alone. */
export const DRESSING_FONTS_PATH = '/api/dressing-fonts';
export const dressingFontPath = ({ id }: Pick<OwnFaceShape, 'id'>) => `${DRESSING_FONTS_PATH}/${id}`;
/** Heavier ones hold more than one script. */
export const FONT_MAX_BYTES = 2 * 1024 * 1024;

export const OwnFace: z.ZodMiniType<OwnFaceShape> = z.object({
  id: z.string().check(z.regex(/^[0-9a-f]{16}$/)),
  name: line(OWN_FACE_NAME_MAX),
});
const face = z.union([z.enum(FACES), OwnFace]);

/** The file itself is the body of a `PUT`; each is then read at its own address. The type is read from the file. */
export const DRESSING_IMAGES_PATH = '/api/dressing-images';
export const dressingImagePath = ({ id }: Pick<DressingImageShape, 'id'>) => `${DRESSING_IMAGES_PATH}/${id}`;

export const DressingImage: z.ZodMiniType<DressingImageShape> = z.object({
  id: z.string().check(z.regex(/^[0-9a-f]{16}$/)),
  width: z.int(),
  height: z.int(),
});

const bug = z
  .object({
    text: line(BUG_MAX, 0),
    logo: z.nullable(DressingImage),
    corner: z.enum(CORNERS),
  })
  .check(z.refine(({ text, logo }) => text !== '' || logo !== null, { error: 'empty', path: ['text'] }));

export const Dressing: z.ZodMiniType<DressingShape> = z.object({
  palette: z.object({ ground: colour, relief: colour, paper: colour, ink: colour, accent: colour }),
  faces: z.object({ heading: face, text: face }),
  manner: z.enum(MANNERS),
  backdrop: z.enum(BACKDROPS),
  backdropImage: z.nullable(DressingImage),
  // Files of dressings that were saved before there were any hold none.
  frames: z._default(
    z.object({ space: z.enum(SPACES), corners: z.enum(ROUNDINGS), border: z.enum(BORDERS) }),
    PLAIN_DRESSING.frames,
  ),
  bug: z.nullable(bug),
  slate: line(SLATE_MAX),
});

/** A dressing as it was saved. */
export const SavedDressing = z.object({
  /** Names this state of it: whoever saves says which one they had before them. */
  version: z.string(),
  dressing: Dressing,
});
export type SavedDressing = z.infer<typeof SavedDressing>;

export const Dressings = z.object({
  /** Of shows without a series, and of series that have none of their own. */
  team: SavedDressing,
  /** By the series' ids, only of those that have their own. */
  bySeries: z.record(Id, SavedDressing),
});
export type Dressings = z.infer<typeof Dressings>;

export const readDressings = endpoint({
  method: 'GET',
  path: '/api/dressings',
  access: right('shows.read'),
  params: Nothing,
  body: Nothing,
  response: z.extend(Dressings, {
    /** The last event of the stream `shows` that is contained. */
    seq: z.int(),
  }),
});

/**
 * Saves a dressing that was read at `version`; of a series that has none of its own yet, at the team's. Programmes that are
 * composed show it at once. Somebody saved in between: `changed_meanwhile`, with what there is now, and nothing is written.
 */
export const saveDressing = endpoint({
  method: 'PUT',
  path: '/api/dressings/:scope',
  access: right('shows.edit'),
  params: z.object({ scope: ShowScope }),
  body: z.object({ version: z.string().check(z.maxLength(100)), dressing: Dressing }),
  response: SavedDressing,
});

/** A series has none of its own any more, and goes by the team's. Of the team: it goes back to the plain one. */
export const dropDressing = endpoint({
  method: 'DELETE',
  path: '/api/dressings/:scope',
  access: right('shows.edit'),
  params: z.object({ scope: ShowScope }),
  body: Nothing,
  response: Dressings,
});

/**
 * A dressing as one file: ZIP with `dressing.json` and its pictures. Read at this path and a scope; a `PUT` of a file gives the
 * dressing that is in it, with its pictures kept, to be looked at and saved.
 */
export const DRESSING_FILES_PATH = '/api/dressing-files';
export const DRESSING_FILE_MAX_BYTES = 25 * 1024 * 1024;
/** Another one is written whenever a file of the version before would be misread. */
export const DRESSING_FILE_VERSION = 1;
export const DressingFileHead = z.object({
  kind: z.literal('juncta.dressing'),
  version: z.int(),
  /** As this version knows it, if it is this version. */
  dressing: z.unknown(),
});
export type DressingFileHead = z.infer<typeof DressingFileHead>;
