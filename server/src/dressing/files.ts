import {
  Dressing,
  DRESSING_FILE_MAX_BYTES,
  DRESSING_FILE_VERSION,
  DRESSING_FILES_PATH,
  DressingFileHead,
  upgraded,
} from '@juncta/contract/dressing';
import { ShowScope } from '@juncta/contract/shows';
import {
  imagesOf,
  MOST_OVERLAYS,
  type Dressing as DressingShape,
  type DressingImage,
  type Face,
  type OverlayImage,
  type OwnFace,
} from '@juncta/core/dressing';
import type { Router } from 'express';
import { strToU8, unzipSync, zipSync, type Unzipped } from 'fflate';
import { inArray } from 'drizzle-orm';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { badInput, notFound, Refusal } from '../http/errors';
import { admit, fileOf } from '../http/files';
import { findFonts, isFont, keepFont } from './fonts';
import { keepImage, stillOf } from './images';
import { readMade } from './moving';
import { readImage } from './read-image';
import { dressingImage } from './schema';
import { dressingFor, dressingsOf } from './store';

/** The one entry that says what the file is. */
const HEAD = 'dressing.json';
const IMAGE = /^images\/([0-9a-f]{16})\.(?:png|jpg|webp)$/;
const MOVING = '.webp';
const FONT = /^fonts\/([0-9a-f]{16})\.woff2$/;
/** A dressing has two pictures, its overlays and two typefaces; a few bytes can unfold to gigabytes. */
const MOST_ENTRIES = 5 + MOST_OVERLAYS;
const MOST_ENTRY_BYTES = 20 * 1024 * 1024;
const MOST_BYTES = 80 * 1024 * 1024;

/** A dressing as one file (ZIP with JSON and its pictures), to be kept or taken to another house. */
export function mountDressingFiles(router: Router, app: App): void {
  router.get(`${DRESSING_FILES_PATH}/:scope`, async (req, res) => {
    await admit(app, req, 'shows.read');
    const scope = ShowScope.safeParse(req.params.scope);
    if (!scope.success) throw notFound('series');
    const { dressing } = dressingFor(await dressingsOf(app.db), scope.data);
    res.attachment('juncta-dressing.zip');
    res.type('application/zip');
    res.send(Buffer.from(zipSync(await entriesOf(app.db, dressing))));
  });

  // What comes is looked at first, and saved like any other change.
  router.put(DRESSING_FILES_PATH, async (req, res) => {
    await admit(app, req, 'shows.edit');
    const tooLong = new Refusal('too_long', 'This file is heavier than 25 MB. A dressing is lighter.');
    const file = await fileOf(req, res, DRESSING_FILE_MAX_BYTES, tooLong);
    const dressing = await takeFile(app, file);
    res.setHeader('Cache-Control', 'no-store');
    res.json(dressing);
  });
}

async function entriesOf(db: Queryable, dressing: DressingShape): Promise<Record<string, Uint8Array>> {
  const ids = imagesOf(dressing).map(({ id }) => id);
  const rows =
    ids.length === 0 ? [] : await db.select().from(dressingImage).where(inArray(dressingImage.id, ids));
  const fonts = await findFonts(db, dressing);
  const head: DressingFileHead = { kind: 'juncta.dressing', version: DRESSING_FILE_VERSION, dressing };
  return {
    [HEAD]: strToU8(JSON.stringify(head, null, 2)),
    ...Object.fromEntries(rows.map(({ id, type, bytes }) => [`images/${id}.${ENDINGS[type]}`, bytes])),
    ...Object.fromEntries(fonts.map(({ id, bytes }) => [`fonts/${id}.woff2`, bytes])),
  };
}
const ENDINGS = { 'image/png': 'png', 'image/jpeg': 'jpg', 'image/webp': 'webp' } as const;

async function takeFile(app: App, file: Buffer): Promise<DressingShape> {
  const entries = unzip(file);
  const { dressing } = headOf(entries);
  const kept = new Map<string, OverlayImage>();
  const fonts = new Map<string, string>();
  for (const [name, bytes] of Object.entries(entries)) {
    const font = FONT.exec(name)?.[1];
    if (font !== undefined) {
      if (!isFont(Buffer.from(bytes))) throw refuse('broken', `Its typeface ${name} cannot be read.`);
      fonts.set(font, await keepFont(app.db, Buffer.from(bytes), app.clock.now()));
    }
    const named = IMAGE.exec(name)?.[1];
    if (named === undefined) continue;
    const image = await (name.endsWith(MOVING) ? readMade : readImage)(Buffer.from(bytes));
    kept.set(named, await keepImage(app.db, image, app.clock.now()));
  }
  // Made anew here, a picture may have another id than in the house it comes from.
  const here = ({ id }: DressingImage): OverlayImage => {
    const image = kept.get(id);
    if (!image) throw refuse('missing', 'A picture that it names is not in it.');
    return image;
  };
  const taken = (image: DressingImage | null): DressingImage | null => image && stillOf(here(image));
  const faceTaken = (face: Face | OwnFace): Face | OwnFace => {
    if (typeof face === 'string') return face;
    const id = fonts.get(face.id);
    if (id === undefined) throw refuse('missing', 'A typeface that it names is not in it.');
    return { ...face, id };
  };
  const { bug, backdropImage, faces, overlays } = dressing;
  return {
    ...dressing,
    faces: { heading: faceTaken(faces.heading), text: faceTaken(faces.text) },
    backdropImage: taken(backdropImage),
    bug: bug && { ...bug, logo: taken(bug.logo) },
    overlays: overlays.map((overlay) => ({ ...overlay, image: here(overlay.image) })),
  };
}

function unzip(file: Buffer): Unzipped {
  let [count, size, isTooMuch] = [0, 0, false];
  try {
    const entries = unzipSync(file, {
      filter: ({ name, originalSize }) => {
        const isOurs = name === HEAD || IMAGE.test(name) || FONT.test(name);
        if (!isOurs) return false;
        count += 1;
        size += originalSize;
        isTooMuch ||= count > MOST_ENTRIES || originalSize > MOST_ENTRY_BYTES || size > MOST_BYTES;
        return !isTooMuch;
      },
    });
    if (!isTooMuch) return entries;
  } catch {
    throw refuse('no_file', 'This file is no dressing: it is not a ZIP file, or it breaks off.');
  }
  throw refuse('too_much', 'This file unfolds to more than a dressing can have.');
}

function headOf(entries: Unzipped): { readonly dressing: DressingShape } {
  const bytes = entries[HEAD];
  if (!bytes) throw refuse('no_file', `This file is no dressing: it has no ${HEAD}.`);
  let json: unknown;
  try {
    json = JSON.parse(Buffer.from(bytes).toString('utf8'));
  } catch {
    throw refuse('no_file', `This file is no dressing: its ${HEAD} cannot be read.`);
  }
  const head = DressingFileHead.safeParse(json);
  if (!head.success) throw refuse('no_file', `This file is no dressing: its ${HEAD} says nothing of one.`);
  const { version, dressing } = head.data;
  if (version < 1 || version > DRESSING_FILE_VERSION)
    throw refuse(
      'other_version',
      `This file was written by another version (${version}); this one reads up to ${DRESSING_FILE_VERSION}.`,
    );
  const read = Dressing.safeParse(upgraded(dressing));
  if (read.success) return { dressing: read.data };
  const at = read.error.issues[0]?.path.join('.') ?? '';
  throw refuse('bad_form', `Its ${HEAD} cannot be used as it is: look at ${at}.`);
}

const refuse = (code: string, sentence: string): Refusal => badInput([{ field: 'file', code, sentence }]);
