import { PICTURE_MAX_PIXELS, type Picture } from '@juncta/contract/listings';
import { cutOf, sentSize, type Crop, type PictureRule } from '@juncta/core/listings';
import { createHash } from 'node:crypto';
import sharp from 'sharp';

export interface Upload {
  readonly picture: Picture;
  readonly type: 'image/png' | 'image/jpeg';
  /** Made anew from what came: nothing that was hidden in the file is kept, such as where it was taken. */
  readonly bytes: Buffer;
}

export type UploadProblem = 'no_picture' | 'too_many_pixels' | 'broken' | 'too_small';

const READ = ['png', 'jpeg', 'webp'];
const LEAST_SIDE = 200;
const QUALITY = 92;

/** Reads an uploaded file by what it holds; whatever its name or its sender call it. */
export async function readUpload(file: Buffer): Promise<Upload | UploadProblem> {
  const open = () => sharp(file, { limitInputPixels: PICTURE_MAX_PIXELS, failOn: 'error' });
  let format: string | undefined;
  try {
    const read = await sharp(file, { limitInputPixels: false }).metadata();
    format = read.format;
    if (!format || !READ.includes(format)) return 'no_picture';
    if (read.width * read.height * (read.pages ?? 1) > PICTURE_MAX_PIXELS) return 'too_many_pixels';
    if (read.width < LEAST_SIDE || read.height < LEAST_SIDE) return 'too_small';
  } catch {
    return 'no_picture';
  }
  try {
    const type = format === 'jpeg' ? 'image/jpeg' : 'image/png';
    const upright = open().rotate();
    const made = type === 'image/jpeg' ? upright.jpeg({ quality: QUALITY }) : upright.png();
    const { data, info } = await made.toBuffer({ resolveWithObject: true });
    return {
      picture: { width: info.width, height: info.height, version: versionOf(data) },
      type,
      bytes: data,
    };
  } catch {
    return 'broken';
  }
}

/** Tried one after the other until a picture is light enough. */
const QUALITIES = [90, 80, 70, 58, 45];

/** A picture as a place takes it: cut, in its size, and not heavier. */
export async function renderPicture(
  bytes: Buffer,
  picture: { readonly width: number; readonly height: number },
  rule: PictureRule,
  crop: Crop | null,
): Promise<Buffer> {
  const cut = cutOf(picture, rule.aspect, crop);
  const size = sentSize(cut, rule);
  const pixels = await sharp(bytes, { limitInputPixels: PICTURE_MAX_PIXELS })
    .extract(cut)
    .resize({ ...size, fit: 'fill' })
    .flatten({ background: '#ffffff' })
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer();
  let made = Buffer.alloc(0);
  for (const quality of QUALITIES) {
    made = await sharp(pixels, { raw: { ...size, channels: 3 } })
      .jpeg({ quality, mozjpeg: true })
      .toBuffer();
    if (rule.maxBytes === null || made.length <= rule.maxBytes) break;
  }
  return made;
}

export const versionOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex').slice(0, 16);
