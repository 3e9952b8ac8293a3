import { cropToFill } from './layouts';
import type { Rect, Size } from './rect';

/** How a source is shown and heard, wherever it stands: what somebody's camera and microphone did not do by themselves. */
export interface Adjustment {
  /** 1: as much as fills the place; {@link MOST_ZOOM}: a quarter of that each way. */
  readonly zoom: number;
  /** Which part: from -1, left or top, to 1, right or bottom, of what there is besides. */
  readonly panX: number;
  readonly panY: number;
  readonly mirror: boolean;
  /** 1: as it comes; from {@link LEAST_TONE} to {@link MOST_TONE}. */
  readonly brightness: number;
  readonly contrast: number;
  /** White balance: from -1, colder, to 1, warmer. */
  readonly warmth: number;
  /** Volume: 0 to {@link MOST_LEVEL}; 1: as it comes. */
  readonly level: number;
  readonly isMuted: boolean;
  /** Their picture is off: they keep their place, and are heard. */
  readonly isHidden: boolean;
}

export const MOST_ZOOM = 4;
export const LEAST_TONE = 0.5;
export const MOST_TONE = 1.5;
export const MOST_LEVEL = 2;

export const AS_IT_COMES: Adjustment = {
  zoom: 1,
  panX: 0,
  panY: 0,
  mirror: false,
  brightness: 1,
  contrast: 1,
  warmth: 0,
  level: 1,
  isMuted: false,
  isHidden: false,
};

/** The part of a frame that is shown in a place, never stretched and never beyond the frame. In pixels of the frame. */
export function framed(source: Size, place: Size, { zoom, panX, panY }: Adjustment): Rect {
  const whole = cropToFill(source, place);
  const [width, height] = [whole.width / zoom, whole.height / zoom];
  return {
    x: ((source.width - width) * (1 + panX)) / 2,
    y: ((source.height - height) * (1 + panY)) / 2,
    width,
    height,
  };
}

/** Red, green and blue by which a frame is multiplied, 0 to 255; null: by nothing. */
export function tintOf({ warmth }: Adjustment): readonly [number, number, number] | null {
  if (warmth === 0) return null;
  const less = Math.round(255 * (1 - 0.35 * Math.abs(warmth)));
  const half = Math.round((255 + less) / 2);
  return warmth > 0 ? [255, half, less] : [less, half, 255];
}

/** By which a source's audio is multiplied while it is on stage. */
export const gainOf = ({ level, isMuted }: Adjustment): number => (isMuted ? 0 : level);
