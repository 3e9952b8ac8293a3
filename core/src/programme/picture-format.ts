import { isUpright, type PictureShape } from './picture-shape';
/** Size and rate of a programme, as the trade writes them: lines, progressive, frames a second. */
export const PICTURE_FORMATS = ['720p30', '720p60', '1080p30', '1080p60'] as const;
export type PictureFormat = (typeof PICTURE_FORMATS)[number];

/** What a show is made in until somebody asks for more. */
export const USUAL_FORMAT: PictureFormat = '720p30';

export interface PictureFigures {
  readonly width: number;
  readonly height: number;
  /** Frames a second. */
  readonly rateHz: number;
  /** The lowest H.264 level that holds it, as `level_idc` (ITU-T H.264, table A-1): 31 is level 3.1. */
  readonly levelIdc: number;
  /** Video that is sent where the line and every place take it, kbit/s. */
  readonly wantedKbps: number;
  /** Below this it falls to pieces; a line that carries less is told. kbit/s. */
  readonly leastKbps: number;
}

const FIGURES: Readonly<Record<PictureFormat, PictureFigures>> = {
  '720p30': { width: 1280, height: 720, rateHz: 30, levelIdc: 31, wantedKbps: 4000, leastKbps: 900 },
  '720p60': { width: 1280, height: 720, rateHz: 60, levelIdc: 32, wantedKbps: 5500, leastKbps: 1300 },
  '1080p30': { width: 1920, height: 1080, rateHz: 30, levelIdc: 40, wantedKbps: 6500, leastKbps: 1800 },
  '1080p60': { width: 1920, height: 1080, rateHz: 60, levelIdc: 42, wantedKbps: 9000, leastKbps: 2600 },
};

export const figuresOf = (format: PictureFormat): PictureFigures => FIGURES[format];

/** What a place takes of a picture. */
export interface PictureLimit {
  readonly maxHeight: number;
  readonly maxFramesPerS: number;
  readonly shape: PictureShape;
}

/** What of this format a place does not take; null: it takes it. Its shape is said first, then the size. */
export function beyondLimit(format: PictureFormat, limit: PictureLimit): 'shape' | 'size' | 'rate' | null {
  if (isUpright(limit.shape)) return 'shape';
  const { height, rateHz } = figuresOf(format);
  if (height > limit.maxHeight) return 'size';
  return rateHz > limit.maxFramesPerS ? 'rate' : null;
}
