/** What a place takes for a picture; null: it does not say. */
export interface PictureRule {
  /** Width to height, as in `16:9`. */
  readonly aspect: string | null;
  readonly minWidth: number | null;
  readonly minHeight: number | null;
  readonly maxBytes: number | null;
}

/** Pixels. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** Which part of a picture is shown: its middle as fractions of width and height, and how much it is enlarged. */
export interface Crop {
  /** 0 to 1. */
  readonly x: number;
  readonly y: number;
  /** 1: as much as the shape takes in. */
  readonly zoom: number;
}

export interface Cut extends Size {
  readonly left: number;
  readonly top: number;
}

export const CENTRED: Crop = { x: 0.5, y: 0.5, zoom: 1 };
export const MOST_ZOOM = 4;
/** Wider than this no place shows one. */
const MOST_WIDTH = 1920;

/** Width divided by height; null for what is no aspect. */
export function ratioOf(aspect: string | null): number | null {
  const [width, height] = (aspect ?? '').split(':').map(Number);
  return width && height && width > 0 && height > 0 ? width / height : null;
}

/** The part of a picture that is shown: whole pixels, inside it, of the wanted shape. */
export function cutOf(picture: Size, aspect: string | null, crop: Crop | null): Cut {
  const { x, y, zoom } = crop ?? CENTRED;
  const ratio = ratioOf(aspect) ?? picture.width / picture.height;
  const fits = Math.min(picture.width, picture.height * ratio);
  const scale = Math.min(MOST_ZOOM, Math.max(1, zoom));
  const width = Math.max(1, Math.min(picture.width, Math.round(fits / scale)));
  const height = Math.max(1, Math.min(picture.height, Math.round(width / ratio)));
  const within = (middle: number, length: number, whole: number) =>
    Math.min(whole - length, Math.max(0, Math.round(middle * whole - length / 2)));
  return { left: within(x, width, picture.width), top: within(y, height, picture.height), width, height };
}

/** The size in which a cut is sent: as it is, unless the place wants more, or nobody shows so much. */
export function sentSize(cut: Size, rule: PictureRule): Size {
  const ratio = ratioOf(rule.aspect) ?? cut.width / cut.height;
  const least = Math.max(rule.minWidth ?? 1, Math.ceil((rule.minHeight ?? 1) * ratio));
  const width = Math.max(least, Math.min(cut.width, MOST_WIDTH));
  return { width, height: Math.max(rule.minHeight ?? 1, Math.round(width / ratio)) };
}

/** Whether it has to be enlarged to be taken, and will look soft. */
export function isSmall(cut: Size, rule: PictureRule): boolean {
  return cut.width < (rule.minWidth ?? 0) || cut.height < (rule.minHeight ?? 0);
}
