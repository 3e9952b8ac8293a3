import { PICTURE_MAX_BYTES, PICTURE_MAX_PIXELS } from '@juncta/contract/http';
import type { Request, Response } from 'express';
import { createHash } from 'node:crypto';
import sharp, { type Metadata } from 'sharp';
import { badInput, Refusal } from './errors';
import { fileOf } from './files';

/** What of pictures is taken at a door. */
export interface PictureDoor {
  readonly formats: readonly ('png' | 'jpeg' | 'webp' | 'svg')[];
  /** Of its shorter side, px. */
  readonly leastSide: number;
  /** Larger ones are made smaller, to this; null: they are kept as large as they are. */
  readonly within: { readonly width: number; readonly height: number } | null;
}

export interface UploadedPicture {
  readonly width: number;
  readonly height: number;
  readonly type: 'image/png' | 'image/jpeg';
  /** Made anew from what came: nothing that was hidden in the file is kept, such as where it was taken. */
  readonly bytes: Buffer;
}

export type UploadProblem = 'no_picture' | 'too_many_pixels' | 'broken' | 'too_small';

const QUALITY = 92;
/** A drawing has no pixels of its own: its longer side has so many. */
const DRAWN_SIDE = 1920;
/** That libvips draws in, dots an inch. */
const MOST_DENSITY = 100_000;

/** Reads an uploaded file by what it holds; whatever its name or its sender call it. */
export async function readPicture(
  file: Buffer,
  { formats, leastSide, within }: PictureDoor,
): Promise<UploadedPicture | UploadProblem> {
  let read: Metadata;
  try {
    read = await sharp(file, { limitInputPixels: false }).metadata();
  } catch {
    return 'no_picture';
  }
  const { format, width, height } = read;
  if (!formats.some((one) => one === format)) return 'no_picture';
  if (width * height * (read.pages ?? 1) > PICTURE_MAX_PIXELS) return 'too_many_pixels';
  const isDrawing = format === 'svg';
  if (!isDrawing && Math.min(width, height) < leastSide) return 'too_small';
  // In the density at which it comes out as large as it may be: drawn once, and not blown up.
  const density = isDrawing ? Math.min(MOST_DENSITY, (72 * DRAWN_SIDE) / Math.max(width, height)) : 72;
  try {
    const upright = sharp(file, { limitInputPixels: PICTURE_MAX_PIXELS, failOn: 'error', density }).rotate();
    const fitted = within ? upright.resize({ ...within, fit: 'inside', withoutEnlargement: true }) : upright;
    const type = format === 'jpeg' ? 'image/jpeg' : 'image/png';
    const made = type === 'image/jpeg' ? fitted.jpeg({ quality: QUALITY }) : fitted.png();
    const { data, info } = await made.toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, type, bytes: data };
  } catch {
    return 'broken';
  }
}

/** The file that was sent to a door for pictures, which has let its sender in. */
export async function pictureFileOf(req: Request, res: Response): Promise<Buffer> {
  const file = await fileOf(
    req,
    res,
    PICTURE_MAX_BYTES,
    new Refusal('too_long', 'This picture is heavier than 10 MB. Save it smaller and send it again.'),
  );
  if (file.length === 0)
    throw badInput([{ field: 'picture', code: 'empty', sentence: 'No file came. Choose it once more.' }]);
  return file;
}

/** What a person is told of a picture that is not taken. */
export function pictureRefusal(problem: UploadProblem, { formats, leastSide }: PictureDoor): Refusal {
  const kinds = formats.map((format) => format.toUpperCase());
  const sentences: Record<UploadProblem, string> = {
    no_picture: `This file is no picture that can be read. ${kinds.slice(0, -1).join(', ')} and ${kinds.at(-1)} can.`,
    too_many_pixels: 'This picture has more than 40 million pixels. Make it smaller and send it again.',
    broken: 'This picture is not whole: it breaks off, or something in it is damaged. Save it once more.',
    too_small: `This picture is too small. It needs at least ${leastSide} pixels each way.`,
  };
  return badInput([{ field: 'picture', code: problem, sentence: sentences[problem] }]);
}

export function sendPicture(res: Response, bytes: Buffer, type: string): void {
  // Asked for with its version: another picture has another address.
  res.set({
    'Content-Type': type,
    'Cache-Control': 'private, max-age=3600',
    'X-Content-Type-Options': 'nosniff',
  });
  res.send(bytes);
}

export const versionOf = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex').slice(0, 16);
