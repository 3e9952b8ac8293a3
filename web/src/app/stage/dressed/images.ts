import { dressingImagePath } from '@juncta/contract/dressing';
import { imagesOf, type Dressing, type DressingImage, type OverlayImage } from '@juncta/core/dressing';
import { loadFaces } from './paper';

/** Done when all is there that a dressing is drawn with, or will not come. */
export async function loadDressed(dressing: Dressing): Promise<void> {
  await Promise.all([loadFaces(dressing), loadImages(dressing)]);
}

/** More than a dressing has, and those of the one before it. */
const MOST_KEPT = 16;
const kept = new Map<string, ImageBitmap | Blob>();

/** Null: it has not come, or it moves, and what it belongs to is drawn without it. */
export function imageFor(image: DressingImage | null): ImageBitmap | null {
  const found = image && find(image);
  return found instanceof ImageBitmap ? found : null;
}

/** The file of a picture that moves; null: it does not, or has not come. */
export function fileFor(image: DressingImage): Blob | null {
  const found = find(image);
  return found instanceof Blob ? found : null;
}

function find({ id }: DressingImage): ImageBitmap | Blob | null {
  const found = kept.get(id);
  if (!found) return null;
  // What is drawn stays, whatever else is looked at: the last in the order is let go of last.
  kept.delete(id);
  kept.set(id, found);
  return found;
}

/** Gets a dressing's pictures, so that it can be drawn with them. One that does not come is no reason to show nothing. */
async function loadImages(dressing: Dressing): Promise<void> {
  const wanted = imagesOf(dressing);
  await Promise.allSettled(wanted.filter(({ id }) => !kept.has(id)).map(load));
  // What this one has goes last, whenever it came.
  wanted.forEach(find);
  for (const id of [...kept.keys()].slice(0, -MOST_KEPT)) kept.delete(id);
}

async function load(image: DressingImage | OverlayImage): Promise<void> {
  const answer = await fetch(dressingImagePath(image));
  if (!answer.ok) return;
  const file = await answer.blob();
  kept.set(image.id, 'lengthMs' in image && image.lengthMs !== null ? file : await createImageBitmap(file));
}
