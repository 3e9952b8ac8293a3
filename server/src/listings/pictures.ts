import { removePicture, type Picture } from '@juncta/contract/listings';
import { Id } from '@juncta/contract/http';
import { and, eq } from 'drizzle-orm';
import type { Request, Router } from 'express';
import type { App } from '../app';
import type { Queryable, Transaction } from '../database/connect';
import { atPlace, placeRefusal } from '../destinations/at-place';
import { connectorOf } from '../destinations/connectors';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { admit } from '../http/files';
import { mount } from '../http/mount';
import {
  pictureFileOf,
  pictureRefusal,
  readPicture,
  sendPicture,
  versionOf,
  type PictureDoor,
  type UploadedPicture,
} from '../http/uploaded-picture';
import { findShow, setShowPicture } from '../shows/store';
import { change, tellListing } from './at-place';
import { renderPicture } from './render-picture';
import { picture } from './schema';
import { changeListing, findListing, type ListingAt } from './store';

const SHOW = 'show';
const DOOR: PictureDoor = { formats: ['png', 'jpeg', 'webp'], leastSide: 200, within: null };

/** The pictures of a show: the one that all listings share, and their own. */
export function mountPictures(router: Router, app: App): void {
  router.put('/api/shows/:showId/pictures/:scope', async (req, res) => {
    await admit(app, req, 'shows.edit');
    const { showId, scope } = await placeOf(app.db, req);
    const read = await readPicture(await pictureFileOf(req, res), DOOR);
    if (typeof read === 'string') throw pictureRefusal(read, DOOR);
    const upload = uploadOf(read);
    await app.db.transaction(async (tx) => {
      await keepPicture(tx, showId, scope, upload);
      await tell(app, tx, showId, scope);
    });
    res.setHeader('Cache-Control', 'no-store');
    res.json(upload.picture);
  });

  mount(router, app, removePicture, async ({ params: { showId, scope } }) => {
    await app.db.transaction(async (tx) => {
      await tx.delete(picture).where(and(eq(picture.showId, showId), eq(picture.scope, scope)));
      await noteWhatItIs(tx, showId, scope, null);
      await tell(app, tx, showId, scope);
    });
    return {};
  });

  router.get('/api/shows/:showId/pictures/:scope', async (req, res) => {
    await admit(app, req, 'shows.read');
    const { showId, scope } = await placeOf(app.db, req);
    const found = await findPicture(app.db, showId, scope);
    if (!found) throw notFound('picture');
    sendPicture(res, found.bytes, found.type);
  });

  router.get('/api/shows/:showId/listings/:destinationId/picture', async (req, res) => {
    await admit(app, req, 'shows.read');
    const { showId, destinationId } = req.params;
    const known = Id.safeParse(showId).success && Id.safeParse(destinationId).success;
    const at = known ? await findListing(app.db, showId, destinationId) : undefined;
    const made = at && (await pictureFor(app, at));
    if (!made) throw notFound('picture');
    sendPicture(res, made, 'image/jpeg');
  });
}

async function placeOf(db: Queryable, req: Request): Promise<{ showId: string; scope: string }> {
  const { showId, scope } = req.params as { showId: string; scope: string };
  if (!Id.safeParse(showId).success || !(await findShow(db, showId))) throw notFound('show');
  const isListing = Id.safeParse(scope).success && (await findListing(db, showId, scope));
  if (scope !== SHOW && !isListing) throw notFound('listing');
  return { showId, scope };
}

async function findPicture(db: Queryable, showId: string, scope: string) {
  const [row] = await db
    .select()
    .from(picture)
    .where(and(eq(picture.showId, showId), eq(picture.scope, scope)));
  return row;
}

/** A picture with what stands about it where everybody sees it. */
export const uploadOf = ({ width, height, type, bytes }: UploadedPicture): Upload => ({
  bytes,
  type,
  picture: { width, height, version: versionOf(bytes) },
});

interface Upload {
  readonly bytes: Buffer;
  readonly type: UploadedPicture['type'];
  readonly picture: Picture;
}

/** Keeps a picture in the place of the one before. */
export async function keepPicture(
  db: Queryable,
  showId: string,
  scope: string,
  { bytes, type, picture: is }: Upload,
): Promise<void> {
  await db
    .insert(picture)
    .values({ showId, scope, bytes, type })
    .onConflictDoUpdate({ target: [picture.showId, picture.scope], set: { bytes, type } });
  await noteWhatItIs(db, showId, scope, is);
}

/** What a picture is stands where everybody sees it. Another one is cut anew. */
async function noteWhatItIs(db: Queryable, showId: string, scope: string, is: Picture | null): Promise<void> {
  if (scope === SHOW) await setShowPicture(db, showId, is);
  else await changeListing(db, showId, scope, { picture: is, crop: null });
}

async function tell(app: App, db: Transaction, showId: string, scope: string): Promise<void> {
  if (scope !== SHOW) {
    await tellListing(app, db, showId, scope);
    return;
  }
  const show = await findShow(db, showId);
  if (!show) throw notFound('show');
  await appendEvent(db, app.clock, 'shows', 'show.saved', { show });
}

/** What a listing's place is to show, as it takes it; null: it takes none, or there is none. */
async function pictureFor(app: App, { listing, destination }: ListingAt): Promise<Buffer | null> {
  const rule = app.rules.of(destination.kind).capabilities.picture;
  if (!rule) return null;
  const { showId, destinationId, crop } = listing;
  const own = await findPicture(app.db, showId, destinationId);
  const found = own ?? (await findPicture(app.db, showId, SHOW));
  const is = own ? listing.picture : (await findShow(app.db, showId))?.picture;
  return found && is ? renderPicture(found.bytes, is, rule, crop) : null;
}

/**
 * Sends a listing's picture to its event, unless the very same is there already. Gives why it was not taken, for a
 * person; null: it was, or there is nothing to send.
 */
export async function sendPictureTo(app: App, at: ListingAt, eventRef: string): Promise<string | null> {
  const give = connectorOf(at.destination.kind).booking?.givePicture;
  const made = give ? await pictureFor(app, at) : null;
  if (!give || !made) return null;
  const version = `${eventRef} ${versionOf(made)}`;
  if (at.listing.sentPicture === version) return null;
  const { showId, destinationId } = at.listing;
  const { destination } = at;
  try {
    await atPlace(app, destination, (target) => give(target, eventRef, made, app.ask));
    await change(app, showId, destinationId, { sentPicture: version });
    return null;
  } catch (error) {
    const refusal = placeRefusal(destination.name, error, 'its picture is not there');
    if (!(refusal instanceof Refusal)) throw refusal;
    return refusal.sentence;
  }
}

/** Copies the pictures of a show to the next one. */
export async function copyPictures(db: Queryable, fromShowId: string, toShowId: string): Promise<void> {
  const rows = await db.select().from(picture).where(eq(picture.showId, fromShowId));
  for (const row of rows)
    await db
      .insert(picture)
      .values({ ...row, showId: toShowId })
      .onConflictDoNothing();
}
