import { DRESSING_IMAGES_PATH } from '@juncta/contract/dressing';
import {
  findDrawingProblem,
  imagesOf,
  isDrawing,
  type Dressing,
  type DressingImage,
  type DrawingProblem,
} from '@juncta/core/dressing';
import { eq, inArray, lt, and, notInArray } from 'drizzle-orm';
import type { Router } from 'express';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { badInput, notFound } from '../http/errors';
import { admit } from '../http/files';
import {
  pictureFileOf,
  pictureRefusal,
  readPicture,
  sendPicture,
  versionOf,
  type PictureDoor,
  type UploadedPicture,
} from '../http/uploaded-picture';
import { dressing, dressingImage } from './schema';

/** As large as the largest programme: more is not seen. */
const PIXELS = ['png', 'jpeg', 'webp'] as const;
const DOOR: PictureDoor = {
  formats: [...PIXELS, 'svg'],
  leastSide: 16,
  within: { width: 1920, height: 1080 },
};
/** What no dressing has is kept so long: somebody may be about to save one with it. */
export const UNUSED_KEPT_MS = 24 * 3_600_000;
/** Of a file: by so much of it a drawing is known. */
const HEAD_BYTES = 4096;
/** Longer drawings are none that somebody drew. */
const DRAWING_MAX = 1024 * 1024;

const SENTENCES: Record<DrawingProblem, string> = {
  runs: 'This drawing has something in it that would run: a script, a handler, an entity or a page within. Save it as a plain SVG, or as PNG.',
  fetches:
    'This drawing takes something from elsewhere: a picture, a style or a font by its address. Save it with all that it needs, or as PNG.',
};

/** Logos and backdrops: sent before the dressing that has them is saved. */
export function mountDressingImages(router: Router, app: App): void {
  router.put(DRESSING_IMAGES_PATH, async (req, res) => {
    await admit(app, req, 'shows.edit');
    const file = await pictureFileOf(req, res);
    const read = await readImage(file);
    const now = app.clock.now();
    await dropUnused(app.db, now - UNUSED_KEPT_MS);
    const image = await keepImage(app.db, read, now);
    res.setHeader('Cache-Control', 'no-store');
    res.json(image);
  });

  router.get(`${DRESSING_IMAGES_PATH}/:id`, async (req, res) => {
    await admit(app, req, 'shows.read');
    const [row] = await app.db.select().from(dressingImage).where(eq(dressingImage.id, req.params.id));
    if (!row) throw notFound('picture');
    sendPicture(res, row.bytes, row.type);
  });
}

/** An image of a dressing by what a file holds; or why it is not taken, as a refusal. */
export async function readImage(file: Buffer): Promise<UploadedPicture> {
  const isSvg = isDrawing(file.subarray(0, HEAD_BYTES).toString('utf8'));
  if (isSvg && file.length > DRAWING_MAX) throw pictureRefusal('too_many_pixels', DOOR);
  const problem = isSvg ? findDrawingProblem(file.toString('utf8')) : null;
  if (problem) throw badInput([{ field: 'picture', code: problem, sentence: SENTENCES[problem] }]);
  // A drawing that is written in another way than it can be looked through is none.
  const read = await readPicture(file, isSvg ? DOOR : { ...DOOR, formats: PIXELS });
  if (typeof read === 'string') throw pictureRefusal(read, DOOR);
  return read;
}

export async function keepImage(
  db: Queryable,
  { width, height, type, bytes }: UploadedPicture,
  sentAt: number,
): Promise<DressingImage> {
  const id = versionOf(bytes);
  await db
    .insert(dressingImage)
    .values({ id, type, width, height, bytes, sentAt })
    .onConflictDoUpdate({ target: dressingImage.id, set: { sentAt } });
  return { id, width, height };
}

/** Refuses a dressing whose pictures are not there: it would be drawn without them. */
export async function refuseMissingImages(db: Queryable, value: Dressing): Promise<void> {
  const wanted = imagesOf(value);
  if (wanted.length === 0) return;
  const there = await db
    .select({ id: dressingImage.id, width: dressingImage.width, height: dressingImage.height })
    .from(dressingImage)
    .where(
      inArray(
        dressingImage.id,
        wanted.map(({ id }) => id),
      ),
    );
  const isThere = (image: DressingImage) =>
    there.some(
      ({ id, width, height }) => id === image.id && width === image.width && height === image.height,
    );
  if (wanted.every(isThere)) return;
  const sentence = 'A picture of this dressing is not here any more. Choose it once more.';
  throw badInput([{ field: 'picture', code: 'gone', sentence }]);
}

async function dropUnused(db: Queryable, before: number): Promise<void> {
  const rows = await db.select({ dressing: dressing.dressing }).from(dressing);
  const used = rows.flatMap((row) => imagesOf(row.dressing).map(({ id }) => id));
  const isOld = lt(dressingImage.sentAt, before);
  await db
    .delete(dressingImage)
    .where(used.length === 0 ? isOld : and(isOld, notInArray(dressingImage.id, used)));
}
