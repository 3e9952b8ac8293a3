import { isUpright } from '../programme/picture-shape';
import type { Machine, Rendition } from './planner';

/** What encoding takes on one machine: ms of one core for a million pixels. */
export interface EncodeCost {
  /** Of pixels that come in. */
  readonly decode: number;
  /** Of pixels that come in, where another size goes out. */
  readonly scale: number;
  /** Of pixels that go out. */
  readonly encode: number;
}

/** What may be encoded on a machine, and what it takes there. */
export interface EncodingMachine {
  /** Cores that may be spent on encodings, whatever runs beside them. */
  readonly cores: number;
  readonly cost: EncodeCost;
  /** False: nobody has measured it on this machine, and the figures are those of a slow one. */
  readonly isMeasured: boolean;
}

/** A machine that nobody has measured is taken for one of these: two older cores, ffmpeg 5.1, grainy pictures. */
export const SLOW_MACHINE: EncodeCost = { decode: 3, scale: 4, encode: 17 };

/** Pictures are 16 by 9, or lie on their side; encoders want even numbers. */
export const widthOf = (height: number): number => 2 * Math.round((height * 8) / 9);

/** Of a rendition, px. */
export function sizeOf({ height, shape }: Pick<Rendition, 'height' | 'shape'>): {
  readonly width: number;
  readonly height: number;
} {
  const longer = widthOf(height);
  return isUpright(shape) ? { width: height, height: longer } : { width: longer, height };
}

/** A moving picture: pixels, and frames a second. */
export interface MovingPicture {
  readonly width: number;
  readonly height: number;
  readonly rateHz: number;
}

const megapixelsPerS = ({ width, height, rateHz }: MovingPicture): number => (width * height * rateHz) / 1e6;

/** Cores that it takes to make one picture of another. */
export function coresBetween(from: MovingPicture, to: MovingPicture, cost: EncodeCost): number {
  const incoming = megapixelsPerS(from);
  const isSameSize = from.width === to.width && from.height === to.height;
  // Frames that are left out are decoded and not scaled.
  const scaled = isSameSize ? 0 : incoming * Math.min(1, to.rateHz / from.rateHz);
  return (incoming * cost.decode + scaled * cost.scale + megapixelsPerS(to) * cost.encode) / 1000;
}

/** The machine as the planner asks it, for renditions of this programme. */
export function machineFor(programme: Rendition, { cores, cost }: EncodingMachine): Machine {
  const picture = (of: Rendition) => ({ ...sizeOf(of), rateHz: of.rateHz });
  return {
    cores,
    coresFor: (rendition) => coresBetween(picture(programme), picture(rendition), cost),
  };
}
