import { DRESSING_IMAGES_PATH } from '@juncta/contract/dressing';
import { imagesOf, type Dressing, type DressingImage, type OverlayImage } from '@juncta/core/dressing';
import { eq, inArray, lt, and, notInArray } from 'drizzle-orm';
import type { Router } from 'express';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { badInput, notFound } from '../http/errors';
import { admit } from '../http/files';
import { pictureFileOf, sendPicture, versionOf } from '../http/uploaded-picture';
import { isWebm, readMoving } from './moving';
import { readImage, type ReadImage } from './read-image';
import { dressingImage } from './schema';
import { savedDressings } from './store';

/** What no dressing has is kept so long: somebody may be about to save one with it. */
export const UNUSED_KEPT_MS = 24 * 3_600_000;

/** Logos, backdrops and overlays: sent before the dressing that has them is saved. */
export function mountDressingImages(router: Router, app: App): void {
  router.put(DRESSING_IMAGES_PATH, async (req, res) => {
    await admit(app, req, 'shows.edit');
    const file = await pictureFileOf(req, res);
    const isOverlay = req.query['for'] === 'overlay';
    const read = isOverlay && isWebm(file) ? await readMoving(file) : await readImage(file);
    const now = app.clock.now();
    await dropUnused(app.db, now - UNUSED_KEPT_MS);
    const image = await keepImage(app.db, read, now);
    res.setHeader('Cache-Control', 'no-store');
    res.json(isOverlay ? image : stillOf(image));
  });

  router.get(`${DRESSING_IMAGES_PATH}/:id`, async (req, res) => {
    await admit(app, req, 'shows.read');
    const [row] = await app.db.select().from(dressingImage).where(eq(dressingImage.id, req.params.id));
    if (!row) throw notFound('picture');
    sendPicture(res, row.bytes, row.type);
  });
}

export async function keepImage(
  db: Queryable,
  { width, height, type, bytes, lengthMs }: ReadImage,
  sentAt: number,
): Promise<OverlayImage> {
  const id = versionOf(bytes);
  await db
    .insert(dressingImage)
    .values({ id, type, width, height, lengthMs, bytes, sentAt })
    .onConflictDoUpdate({ target: dressingImage.id, set: { sentAt } });
  return { id, width, height, lengthMs };
}

/** What does not move is known by less. */
export const stillOf = ({ id, width, height }: OverlayImage): DressingImage => ({ id, width, height });

/** Refuses a dressing whose pictures are not there: it would be drawn without them. */
export async function refuseMissingImages(db: Queryable, value: Dressing): Promise<void> {
  const wanted = imagesOf(value);
  if (wanted.length === 0) return;
  const there = await db
    .select({
      id: dressingImage.id,
      width: dressingImage.width,
      height: dressingImage.height,
      lengthMs: dressingImage.lengthMs,
    })
    .from(dressingImage)
    .where(
      inArray(
        dressingImage.id,
        wanted.map(({ id }) => id),
      ),
    );
  // Only overlays may move, and say for how long.
  const isThere = (image: DressingImage | OverlayImage) =>
    there.some(
      ({ id, width, height, lengthMs }) =>
        id === image.id &&
        width === image.width &&
        height === image.height &&
        lengthMs === ('lengthMs' in image ? image.lengthMs : null),
    );
  if (wanted.every(isThere)) return;
  const sentence = 'A picture of this dressing is not here any more. Choose it once more.';
  throw badInput([{ field: 'picture', code: 'gone', sentence }]);
}

async function dropUnused(db: Queryable, before: number): Promise<void> {
  const used = (await savedDressings(db)).flatMap((one) => imagesOf(one).map(({ id }) => id));
  const isOld = lt(dressingImage.sentAt, before);
  await db
    .delete(dressingImage)
    .where(used.length === 0 ? isOld : and(isOld, notInArray(dressingImage.id, used)));
}
