import { DRESSING_FONTS_PATH, FONT_MAX_BYTES, OwnFace } from '@juncta/contract/dressing';
import { ownFacesOf, readFontDirectory, type Dressing } from '@juncta/core/dressing';
import { and, eq, inArray, lt, notInArray } from 'drizzle-orm';
import type { Router } from 'express';
import { brotliDecompressSync } from 'node:zlib';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { badInput, notFound, Refusal } from '../http/errors';
import { admit, fileOf } from '../http/files';
import { versionOf } from '../http/uploaded-picture';
import { dressingFont } from './schema';
import { savedDressings } from './store';
import { UNUSED_KEPT_MS } from './images';

/** Typefaces of a house's own: sent before the dressing that has them is saved. */
export function mountDressingFonts(router: Router, app: App): void {
  router.put(DRESSING_FONTS_PATH, async (req, res) => {
    await admit(app, req, 'shows.edit');
    const tooLong = new Refusal(
      'too_long',
      'This typeface is heavier than 2 MB. Save it with fewer letters.',
    );
    const file = await fileOf(req, res, FONT_MAX_BYTES, tooLong);
    if (!isFont(file))
      throw refuse(
        'no_font',
        'This file is no typeface that can be read. WOFF2 can; other kinds have to be converted.',
      );
    const face = OwnFace.safeParse({ id: versionOf(file), name: req.query['name'] });
    if (!face.success) throw refuse('name', 'A typeface needs a name of up to 40 characters.');
    const now = app.clock.now();
    await dropUnused(app.db, now - UNUSED_KEPT_MS);
    await keepFont(app.db, file, now);
    res.setHeader('Cache-Control', 'no-store');
    res.json(face.data);
  });

  router.get(`${DRESSING_FONTS_PATH}/:id`, async (req, res) => {
    await admit(app, req, 'shows.read');
    const [row] = await app.db.select().from(dressingFont).where(eq(dressingFont.id, req.params.id));
    if (!row) throw notFound('typeface');
    res.set({
      'Content-Type': 'font/woff2',
      'Cache-Control': 'private, max-age=3600',
      'X-Content-Type-Options': 'nosniff',
    });
    res.send(row.bytes);
  });
}

/** Whether it is a whole WOFF2 file. What is in its tables the browser checks before it draws anything. */
export function isFont(file: Buffer): boolean {
  const directory = readFontDirectory(file);
  if (!directory) return false;
  const { from, length, unpacked } = directory;
  try {
    const block = brotliDecompressSync(file.subarray(from, from + length), { maxOutputLength: unpacked + 1 });
    return block.length === unpacked;
  } catch {
    return false;
  }
}

/** Gives its id. */
export async function keepFont(db: Queryable, bytes: Buffer, sentAt: number): Promise<string> {
  const id = versionOf(bytes);
  await db
    .insert(dressingFont)
    .values({ id, bytes, sentAt })
    .onConflictDoUpdate({ target: dressingFont.id, set: { sentAt } });
  return id;
}

export async function findFonts(db: Queryable, value: Dressing): Promise<{ id: string; bytes: Buffer }[]> {
  const ids = ownFacesOf(value).map(({ id }) => id);
  return ids.length === 0 ? [] : db.select().from(dressingFont).where(inArray(dressingFont.id, ids));
}

/** Refuses a dressing whose typefaces are not there: its words would be drawn in others. */
export async function refuseMissingFonts(db: Queryable, value: Dressing): Promise<void> {
  const there = (await findFonts(db, value)).map(({ id }) => id);
  if (ownFacesOf(value).every(({ id }) => there.includes(id))) return;
  throw refuse('gone', 'A typeface of this dressing is not here any more. Choose it once more.');
}

async function dropUnused(db: Queryable, before: number): Promise<void> {
  const used = (await savedDressings(db)).flatMap((one) => ownFacesOf(one).map(({ id }) => id));
  const isOld = lt(dressingFont.sentAt, before);
  await db
    .delete(dressingFont)
    .where(used.length === 0 ? isOld : and(isOld, notInArray(dressingFont.id, used)));
}

const refuse = (code: string, sentence: string): Refusal => badInput([{ field: 'font', code, sentence }]);
