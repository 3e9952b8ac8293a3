import {
  BACKDROPS,
  BORDERS,
  BUG_MAX,
  BUG_SIZES,
  COLOUR_PATTERN,
  FACES,
  LEAST_OPACITY,
  LEAST_OVERLAY_WIDTH,
  MANNERS,
  MOST_OVERLAYS,
  OVERLAY_NAME_MAX,
  OVERLAY_PLACES,
  OWN_FACE_NAME_MAX,
  PLAIN_DRESSING,
  ROUNDINGS,
  SLATE_MAX,
  SPACES,
  type Dressing as DressingShape,
  type DressingImage as DressingImageShape,
  type Overlay as OverlayShape,
  type OverlayImage as OverlayImageShape,
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

/**
 * The file itself is the body of a `PUT`; each is then read at its own address. The type is read from the file. Of overlays
 * (`?for=overlay`) WebM is taken too, with what is seen through it, and the answer is an {@link OverlayImage}.
 */
export const DRESSING_IMAGES_PATH = '/api/dressing-images';
export const OVERLAY_IMAGES_PATH = `${DRESSING_IMAGES_PATH}?for=overlay`;
export const dressingImagePath = ({ id }: Pick<DressingImageShape, 'id'>) => `${DRESSING_IMAGES_PATH}/${id}`;

const image = {
  id: z.string().check(z.regex(/^[0-9a-f]{16}$/)),
  width: z.int().check(z.minimum(1)),
  height: z.int().check(z.minimum(1)),
};
export const DressingImage: z.ZodMiniType<DressingImageShape> = z.object(image);
export const OverlayImage: z.ZodMiniType<OverlayImageShape> = z.object({
  ...image,
  lengthMs: z.nullable(z.int().check(z.minimum(1))),
});

const share = (least: number) => z.number().check(z.minimum(least), z.maximum(1));
const overlay: z.ZodMiniType<OverlayShape> = z.object({
  id: Id,
  name: line(OVERLAY_NAME_MAX),
  image: OverlayImage,
  place: z.enum(OVERLAY_PLACES),
  width: share(LEAST_OVERLAY_WIDTH),
  opacity: share(LEAST_OPACITY),
  repeats: z.boolean(),
});
const overlays = z.array(overlay).check(
  z.maxLength(MOST_OVERLAYS),
  z.refine((all) => new Set(all.map(({ id }) => id)).size === all.length, { error: 'same_id' }),
);

const bug = z
  .object({
    text: line(BUG_MAX, 0),
    logo: z.nullable(DressingImage),
    corner: z.enum(CORNERS),
    size: z._default(z.enum(BUG_SIZES), 'usual'),
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
  overlays: z._default(overlays, []),
  slates: z.object({ before: line(SLATE_MAX), break: line(SLATE_MAX), after: line(SLATE_MAX) }),
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
/** Another one is written whenever a file of the version before would be misread; those before it are read all the same. */
export const DRESSING_FILE_VERSION = 2;
export const DressingFileHead = z.object({
  kind: z.literal('juncta.dressing'),
  version: z.int(),
  /** As this version knows it, if it is this version. */
  dressing: z.unknown(),
});
export type DressingFileHead = z.infer<typeof DressingFileHead>;

/** A dressing as it may have been written by versions before this one, in the form of this one as far as it is known. */
export function upgraded(dressing: unknown): unknown {
  if (typeof dressing !== 'object' || dressing === null) return dressing;
  // Once there was one slate, and it was read in the breaks.
  const { slate, ...others } = dressing as { slate?: unknown };
  return slate === undefined ? dressing : { slates: { ...PLAIN_DRESSING.slates, break: slate }, ...others };
}
