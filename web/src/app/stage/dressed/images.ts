import { dressingImagePath } from '@juncta/contract/dressing';
import { imagesOf, type Dressing, type DressingImage } from '@juncta/core/dressing';
import { loadFaces } from './paper';

/** Done when all is there that a dressing is drawn with, or will not come. */
export async function loadDressed(dressing: Dressing): Promise<void> {
  await Promise.all([loadFaces(dressing), loadImages(dressing)]);
}

/** More than a dressing has, and those of the one before it. */
const MOST_KEPT = 8;
const kept = new Map<string, ImageBitmap>();

/** Null: it has not come, and what it belongs to is drawn without it. */
export function imageFor(image: DressingImage | null): ImageBitmap | null {
  const found = image && kept.get(image.id);
  if (!found) return null;
  // What is drawn stays, whatever else is looked at: the last in the order is let go of last.
  kept.delete(image.id);
  kept.set(image.id, found);
  return found;
}

/** Gets a dressing's pictures, so that it can be drawn with them. One that does not come is no reason to show nothing. */
async function loadImages(dressing: Dressing): Promise<void> {
  const missing = imagesOf(dressing).filter(({ id }) => !kept.has(id));
  await Promise.allSettled(missing.map(load));
  for (const id of [...kept.keys()].slice(0, -MOST_KEPT)) kept.delete(id);
}

async function load(image: DressingImage): Promise<void> {
  const answer = await fetch(dressingImagePath(image));
  if (answer.ok) kept.set(image.id, await createImageBitmap(await answer.blob()));
}
