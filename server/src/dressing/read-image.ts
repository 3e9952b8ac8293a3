import { findDrawingProblem, isDrawing, type DrawingProblem } from '@juncta/core/dressing';
import { badInput } from '../http/errors';
import {
  pictureRefusal,
  readPicture,
  type PictureDoor,
  type UploadedPicture,
} from '../http/uploaded-picture';

/** A picture that is to be kept. */
export interface ReadImage extends Omit<UploadedPicture, 'type'> {
  readonly type: UploadedPicture['type'] | 'image/webp';
  /** Of its motion; null: it does not move. */
  readonly lengthMs: number | null;
}

/** As large as the largest programme: more is not seen. */
const PIXELS = ['png', 'jpeg', 'webp'] as const;
const DOOR: PictureDoor = {
  formats: [...PIXELS, 'svg'],
  leastSide: 16,
  within: { width: 1920, height: 1080 },
};
/** Of a file: by so much of it a drawing is known. */
const HEAD_BYTES = 4096;
/** Longer drawings are none that somebody drew. */
const DRAWING_MAX = 1024 * 1024;

const SENTENCES: Record<DrawingProblem, string> = {
  runs: 'This drawing has something in it that would run: a script, a handler, an entity or a page within. Save it as a plain SVG, or as PNG.',
  fetches:
    'This drawing takes something from elsewhere: a picture, a style or a font by its address. Save it with all that it needs, or as PNG.',
};

/** An image of a dressing by what a file holds; or why it is not taken, as a refusal. */
export async function readImage(file: Buffer): Promise<ReadImage> {
  const isSvg = isDrawing(file.subarray(0, HEAD_BYTES).toString('utf8'));
  if (isSvg && file.length > DRAWING_MAX) throw pictureRefusal('too_many_pixels', DOOR);
  const problem = isSvg ? findDrawingProblem(file.toString('utf8')) : null;
  if (problem) throw badInput([{ field: 'picture', code: problem, sentence: SENTENCES[problem] }]);
  // A drawing that is written in another way than it can be looked through is none.
  const read = await readPicture(file, isSvg ? DOOR : { ...DOOR, formats: PIXELS });
  if (typeof read === 'string') throw pictureRefusal(read, DOOR);
  return { ...read, lengthMs: null };
}
