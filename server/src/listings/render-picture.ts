import { PICTURE_MAX_PIXELS } from '@juncta/contract/http';
import { cutOf, sentSize, type Crop, type PictureRule } from '@juncta/core/listings';
import sharp from 'sharp';

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
