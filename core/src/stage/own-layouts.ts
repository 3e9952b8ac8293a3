import { ACTION_SAFE, freeOf, GAP, type SlotKind, type Taken } from './layouts';
import { even, type Rect, type Size } from './rect';

/** A layout that somebody of the team made: a place for each of so many sources. A scene has all of it, not its name alone. */
export interface OwnLayout {
  /** A random UUID. */
  readonly id: string;
  /** Empty while it is being made. */
  readonly name: string;
  /** In the order in which sources take them. */
  readonly places: readonly OwnPlace[];
}

/** Shares of what is free in the picture, from 0 to 1: of its width and its height. */
export interface OwnPlace {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Who takes it before others do. */
  readonly kind: SlotKind;
}

/** UTF-16 units: what stands on a key. */
export const OWN_LAYOUT_NAME_MAX = 24;
/** Of the picture's width and height: smaller, nobody is known in it. */
export const LEAST_PLACE = 0.08;
/** Between two corners: nearer, one was meant to be where the other is. */
const SAME = 0.001;

/**
 * Which place each source takes, in the order of the sources: screens those that were made for screens, people those for
 * people, and what is left takes what is left. Null: there are more sources than places.
 */
export function placesTaken({ places }: OwnLayout, slots: readonly SlotKind[]): (number | null)[] {
  const free = new Set(places.keys());
  const take = (fits: (place: OwnPlace) => boolean): number | null => {
    const found = [...free].find((at) => fits(places[at]!)) ?? null;
    if (found !== null) free.delete(found);
    return found;
  };
  const fitting = slots.map((kind) => take((place) => place.kind === kind));
  return fitting.map((at) => at ?? take(() => true));
}

/**
 * The place of each source, in the order of the sources; pixels, even.
 *
 * @param taken by graphics: all but what fills the picture stands beside them
 */
export function placesOfOwn(
  own: OwnLayout,
  slots: readonly SlotKind[],
  size: Size,
  taken: Taken = {},
): (Rect | null)[] {
  const gap = even(size.height * GAP);
  const whole = { x: 0, y: 0, ...size };
  const area = taken.band || taken.side ? freeOf(whole, gap, taken) : whole;
  return placesTaken(own, slots).map((at) => {
    const place = at === null ? null : own.places[at]!;
    return place && rectIn(isWhole(place) ? whole : area, place);
  });
}

const isWhole = ({ x, y, width, height }: OwnPlace): boolean =>
  x < SAME && y < SAME && width > 1 - SAME && height > 1 - SAME;

function rectIn(area: Rect, place: OwnPlace): Rect {
  const left = nearestEven(area.x + place.x * area.width);
  const top = nearestEven(area.y + place.y * area.height);
  return {
    x: left,
    y: top,
    width: nearestEven(area.x + (place.x + place.width) * area.width) - left,
    height: nearestEven(area.y + (place.y + place.height) * area.height) - top,
  };
}

/** A share is not exact: what was made of even pixels is to become the same again. */
const nearestEven = (value: number): number => Math.round(value / 2) * 2;

/** Where something stands in the picture, as a place of an own layout. */
export const placeAt = (rect: Rect, kind: SlotKind, size: Size): OwnPlace => ({
  x: rect.x / size.width,
  y: rect.y / size.height,
  width: rect.width / size.width,
  height: rect.height / size.height,
  kind,
});

/** What of a place is moved: all of it, or those of its edges. */
export interface Grip {
  readonly left: boolean;
  readonly top: boolean;
  readonly right: boolean;
  readonly bottom: boolean;
}
export const WHOLE: Grip = { left: true, top: true, right: true, bottom: true };

/** A place moved by so much of the picture, within the picture and no smaller than it may be. */
export function moved(place: OwnPlace, grip: Grip, byX: number, byY: number): OwnPlace {
  const [x, width] = movedSpan(place.x, place.width, grip.left, grip.right, byX);
  const [y, height] = movedSpan(place.y, place.height, grip.top, grip.bottom, byY);
  return { ...place, x, y, width, height };
}

function movedSpan(
  from: number,
  length: number,
  first: boolean,
  last: boolean,
  by: number,
): [number, number] {
  if (first && last) return [clamp(from + by, 0, 1 - length), length];
  const end = from + length;
  if (first) {
    const at = clamp(from + by, 0, end - LEAST_PLACE);
    return [at, end - at];
  }
  return [from, last ? clamp(end + by, from + LEAST_PLACE, 1) - from : length];
}

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value));

/** Lines at which an edge or a middle was caught, shares of the picture's width and height; null: at none. */
export interface Caught {
  readonly x: number | null;
  readonly y: number | null;
}

/** Of the picture's width and height: within this distance an edge is caught by a line. */
export const CATCHES = 0.012;
/** Width by height of a programme: a gap is as wide as it is high. */
const ASPECT = 16 / 9;

/**
 * Moves what is moved of a place onto the nearest line that is near enough: the picture's edges, its action-safe area, its
 * middle and thirds, the edges and middles of other places, and a gap beside them.
 */
export function caught(
  place: OwnPlace,
  grip: Grip,
  others: readonly OwnPlace[],
): { readonly place: OwnPlace; readonly lines: Caught } {
  const across = linesOf(
    others.map(({ x, width }) => [x, width]),
    GAP / ASPECT,
  );
  const down = linesOf(
    others.map(({ y, height }) => [y, height]),
    GAP,
  );
  const x = nearest(edgesOf(place.x, place.width, grip.left, grip.right), across);
  const y = nearest(edgesOf(place.y, place.height, grip.top, grip.bottom), down);
  const pulled = moved(place, grip, x?.by ?? 0, y?.by ?? 0);
  return { place: pulled, lines: { x: x?.line ?? null, y: y?.line ?? null } };
}

/** Of a span that moves as a whole its middle is caught too. */
const edgesOf = (from: number, length: number, first: boolean, last: boolean): number[] => [
  ...(first ? [from] : []),
  ...(last ? [from + length] : []),
  ...(first && last ? [from + length / 2] : []),
];

function linesOf(others: readonly (readonly [from: number, length: number])[], gap: number): number[] {
  const own = [0, ACTION_SAFE, 1 / 3, 1 / 2, 2 / 3, 1 - ACTION_SAFE, 1];
  const theirs = others.flatMap(([from, length]) => {
    const to = from + length;
    return [from, to, from + length / 2, from - gap, to + gap];
  });
  return [...own, ...theirs].filter((line) => line >= 0 && line <= 1);
}

function nearest(
  edges: readonly number[],
  lines: readonly number[],
): { readonly by: number; readonly line: number } | null {
  let best: { by: number; line: number } | null = null;
  for (const edge of edges)
    for (const line of lines) {
      const by = line - edge;
      if (Math.abs(by) <= CATCHES && (best === null || Math.abs(by) < Math.abs(best.by))) best = { by, line };
    }
  return best;
}
