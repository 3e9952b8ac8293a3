/** A part of the programme's picture, in its pixels; whole and even, because the encoder halves colour both ways. */
export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** The usual programme's size, and the one that pictures of a scene are sketched in. */
export const PROGRAMME: Size = { width: 1280, height: 720 };

export const even = (value: number): number => Math.floor(value / 2) * 2;

export const overlap = (a: Rect, b: Rect): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

export const contains = (outer: Rect, inner: Rect): boolean =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height;

/** The whole picture without a margin of this share of its width and height on each side. */
export function withinMargin(size: Size, share: number): Rect {
  const [x, y] = [even(Math.ceil(size.width * share) + 1), even(Math.ceil(size.height * share) + 1)];
  return { x, y, width: even(size.width - 2 * x), height: even(size.height - 2 * y) };
}

/** The largest even rectangle of an aspect between two (width by height), in the middle of an area. */
export function fitAspect(area: Rect, least: number, most: number): Rect {
  const width = even(Math.min(area.width, area.height * most));
  const height = even(Math.min(area.height, area.width / least));
  return {
    x: even(area.x + (area.width - width) / 2),
    y: even(area.y + (area.height - height) / 2),
    width,
    height,
  };
}

/** What is left of an area without some parts of it: rectangles that do not overlap, and fill it with the parts together. */
export function withoutParts(area: Rect, parts: readonly Rect[]): Rect[] {
  return parts.reduce<Rect[]>((left, part) => left.flatMap((one) => withoutPart(one, part)), [area]);
}

function withoutPart(area: Rect, part: Rect): Rect[] {
  if (!overlap(area, part)) return [area];
  const [right, foot] = [area.x + area.width, area.y + area.height];
  const [top, bottom] = [Math.max(area.y, part.y), Math.min(foot, part.y + part.height)];
  const [from, to] = [Math.max(area.x, part.x), Math.min(right, part.x + part.width)];
  return [
    { ...area, height: top - area.y },
    { ...area, y: bottom, height: foot - bottom },
    { x: area.x, y: top, width: from - area.x, height: bottom - top },
    { x: to, y: top, width: right - to, height: bottom - top },
  ].filter(({ width, height }) => width > 0 && height > 0);
}
