import { CORNER_LINE, GRAPHICS_SAFE, MOST_OVERLAYS_ON, type Rect } from '../stage';
import type { DressingImage } from './image';

/** A picture with nothing behind it that desks lay over the programme: a frame, a sticker, an opening that moves. */
export interface Overlay {
  /** By which the stage knows it. It stays when its picture is exchanged. */
  readonly id: string;
  readonly name: string;
  readonly image: OverlayImage;
  readonly place: OverlayPlace;
  /** A share of the picture's width; of one that fills the picture without meaning. */
  readonly width: number;
  /** 1: as it is; less: what is behind it is seen through it. */
  readonly opacity: number;
  /** Of one that moves: it begins anew at its end. Otherwise it stays as it ended. */
  readonly repeats: boolean;
}

export interface OverlayImage extends DressingImage {
  /** How long its motion is, ms; null: it does not move. */
  readonly lengthMs: number | null;
}

export const OVERLAY_PLACES = [
  'whole',
  'top_left',
  'top',
  'top_right',
  'left',
  'middle',
  'right',
  'bottom_left',
  'bottom',
  'bottom_right',
] as const;
export type OverlayPlace = (typeof OVERLAY_PLACES)[number];

/** All of them can be on at once. */
export const MOST_OVERLAYS = MOST_OVERLAYS_ON;
/** The longest name of one, UTF-16 units: what a key has room for. */
export const OVERLAY_NAME_MAX = 30;
export const LEAST_OVERLAY_WIDTH = 0.05;
export const LEAST_OPACITY = 0.1;
/** The longest motion of one, and how large it is kept at most: more is a clip. */
export const OVERLAY_MAX_MS = 10_000;
export const MOVING_OVERLAY = { width: 1280, height: 720, rateHz: 30 } as const;

/** Those that are on, from the lowest to the highest. One that the dressing does not have any more is not. */
export const overlaysOn = (
  { overlays }: { readonly overlays: readonly Overlay[] },
  ids: readonly string[],
): readonly Overlay[] => ids.flatMap((id) => overlays.find((one) => one.id === id) ?? []);

/** All pictures of programmes are as wide, by their height. */
const ASPECT = 16 / 9;
const WHOLE: Rect = { x: 0, y: 0, width: 1, height: 1 };

/**
 * Where an overlay stands, in shares of the picture's width and height: as wide as it is said to be, or less, since all of it
 * stays within the margin in which graphics are read on every screen. What stands at the top stands below the line of the corners.
 */
export function overlayPlace({ place, width, image }: Pick<Overlay, 'place' | 'width' | 'image'>): Rect {
  if (place === 'whole') return WHOLE;
  const most = 1 - 2 * GRAPHICS_SAFE;
  const above = place.startsWith('top') ? CORNER_LINE : 0;
  const heightOf = (wide: number) => (wide * ASPECT * image.height) / image.width;
  const wide = Math.min(width, most, (width * (most - above)) / heightOf(width));
  const high = heightOf(wide);
  const at = (isFirst: boolean, isLast: boolean, length: number) =>
    isFirst ? GRAPHICS_SAFE : isLast ? 1 - GRAPHICS_SAFE - length : (1 - length) / 2;
  return {
    x: at(place.endsWith('left'), place.endsWith('right'), wide),
    y: at(place.startsWith('top'), place.startsWith('bottom'), high) + above,
    width: wide,
    height: high,
  };
}
