import { even, fitAspect, withinMargin, type Rect, type Size } from './rect';

/**
 * Where sources stand in the picture. A layout knows only what comes in which order, and whether it is somebody or a
 * screen; so the same number of both stands in the same places whoever it is, and nobody moves but when they have to.
 */
export const LAYOUTS = [
  /** By who and what is there. */
  'auto',
  /** The first, over the whole picture. */
  'alone',
  'pair',
  'row',
  /** All, as large as they can be. */
  'grid',
  /** The first large, the others at its side. */
  'beside',
  /** The first large, the others under it. */
  'beneath',
  /** A screen large, people at its side. */
  'column',
  /** A screen over the whole picture, the first of the people in its corner. */
  'inset',
  /** Two screens side by side, people under them. */
  'screens',
] as const;
export type Layout = (typeof LAYOUTS)[number];

/** A screen is shown whole, since a cut-off line of text is worse than a margin; people fill their places. */
export type SlotKind = 'person' | 'screen';

/** So many sources have a place in the picture at once. */
export const MOST_IN_PICTURE = 12;

/** What television sets cut off at most, of width and height on each side (EBU R 95, action-safe area). */
export const ACTION_SAFE = 0.035;
/** Within this margin graphics are read on every screen (EBU R 95, graphics-safe area). */
export const GRAPHICS_SAFE = 0.05;
/** Of the programme's height: what is left free between two places. */
export const GAP = 1 / 36;
/** Width by height of a person's place: upright at the least, as a camera sees at the most. */
const LEAST_ASPECT = 0.72;
const MOST_ASPECT = 16 / 9;
/** Two faces side by side look at one another best when their places are nearly square. */
const LEAST_PAIR_ASPECT = 0.9;
/** Of the picture's width: what stands at the side of something large, by how many it is. */
const SIDE = [0.3, 0.28, 0.25, 0.23, 0.3, 0.3, 0.36] as const;
/** Of the picture's height: what stands under something large. */
const UNDER = [0.34, 0.32, 0.3, 0.28] as const;
const INSET_WIDTH = 0.22;
const INSET_ASPECT = 4 / 3;

/** Null: this one is not seen in the layout. */
type Places = (Rect | null)[];

/**
 * The place of each source, in the order of the sources; pixels, even. Nothing overlaps but an inset over its screen, and
 * all but what fills the picture stays in the action-safe area. Later ones that have no place in a layout get null.
 *
 * @param slots in order, at most {@link MOST_IN_PICTURE}; none: the backdrop is seen alone
 * @param taken by graphics: all but what fills the picture stands beside them
 * @param space between two of them, a share of the picture's height
 */
export function placesOf(
  layout: Layout,
  slots: readonly SlotKind[],
  size: Size,
  taken: Taken = {},
  space = GAP,
): Places {
  if (slots.length === 0) return [];
  const whole = { x: 0, y: 0, ...size };
  if (slots.length === 1) return [whole];
  const gap = even(size.height * space);
  const beside = even(size.height * GAP);
  const area = freeOf(withinMargin(size, ACTION_SAFE), beside, taken);
  const all = slots.map((_, i) => i);
  const screens = all.filter((i) => slots[i] === 'screen');
  const people = all.filter((i) => slots[i] === 'person');
  const first = screens[0] ?? 0;

  switch (layout) {
    case 'auto':
      return placesOf(automatic(people.length, screens.length), slots, size, taken, space);
    case 'alone':
      return give(slots, [0], [whole]);
    case 'pair':
      return give(slots, [0, 1], rowOf(2, area, gap, LEAST_PAIR_ASPECT));
    case 'row':
      return give(slots, all, rowOf(slots.length, area, gap, LEAST_ASPECT));
    case 'grid':
      return give(slots, all, gridOf(slots.length, area, gap));
    case 'beside':
      return largeBeside(slots, 0, area, gap);
    case 'column':
      return largeBeside(slots, first, area, gap);
    case 'beneath':
      return largeAbove(slots, 0, area, gap);
    case 'inset':
      return give(
        slots,
        [first, people.find((i) => i !== first) ?? 1],
        [whole, insetOf(size, beside, taken)],
      );
    case 'screens':
      return screens.length < 2
        ? placesOf(screens.length === 1 ? 'column' : 'grid', slots, size, taken, space)
        : twoScreens(slots, screens.slice(0, 2), people, area, gap);
  }
}

/** What is chosen for so many people and screens. */
export function automatic(people: number, screens: number): Exclude<Layout, 'auto'> {
  if (screens >= 2) return 'screens';
  if (screens === 1) return people === 0 ? 'alone' : 'column';
  if (people <= 1) return 'alone';
  return people === 2 ? 'pair' : people === 3 ? 'row' : 'grid';
}

function give(slots: readonly SlotKind[], to: readonly number[], rects: readonly Rect[]): Places {
  const places: Places = slots.map(() => null);
  to.forEach((slot, i) => (places[slot] = rects[i] ?? null));
  return places;
}

/** In one row, as tall as they may be. */
function rowOf(count: number, area: Rect, gap: number, leastAspect: number): Rect[] {
  return tiles(count, count, area, gap, leastAspect);
}

/** In the number of columns in which they take the most of the area. */
export function gridOf(count: number, area: Rect, gap: number): Rect[] {
  let best: Rect[] = [];
  for (let columns = 1; columns <= count; columns++) {
    const some = tiles(count, columns, area, gap, LEAST_ASPECT);
    const [one, before] = [some[0]!, best[0]];
    if (!before || one.width * one.height > before.width * before.height) best = some;
  }
  return best;
}

/** Tiles of one size in rows; a last row that is not full stands in the middle. */
function tiles(count: number, columns: number, area: Rect, gap: number, leastAspect: number): Rect[] {
  const rows = Math.ceil(count / columns);
  const cell = {
    ...area,
    width: (area.width - (columns - 1) * gap) / columns,
    height: (area.height - (rows - 1) * gap) / rows,
  };
  const { width, height } = fitAspect(cell, leastAspect, MOST_ASPECT);
  const top = area.y + (area.height - rows * height - (rows - 1) * gap) / 2;
  return Array.from({ length: count }, (_, i) => {
    const row = Math.floor(i / columns);
    const inRow = Math.min(columns, count - row * columns);
    const left = area.x + (area.width - inRow * width - (inRow - 1) * gap) / 2;
    return {
      x: even(left + (i % columns) * (width + gap)),
      y: even(top + row * (height + gap)),
      width,
      height,
    };
  });
}

function largeBeside(slots: readonly SlotKind[], large: number, area: Rect, gap: number): Places {
  const others = slots.map((_, i) => i).filter((i) => i !== large);
  const width = even(area.width * SIDE[Math.min(others.length, SIDE.length) - 1]!);
  const side = { ...area, x: area.x + area.width - width, width };
  const rest = { ...area, width: even(area.width - width - gap) };
  return give(slots, [large, ...others], [largeIn(rest, slots[large]!), ...gridOf(others.length, side, gap)]);
}

function largeAbove(slots: readonly SlotKind[], large: number, area: Rect, gap: number): Places {
  const others = slots.map((_, i) => i).filter((i) => i !== large);
  const height = even(area.height * UNDER[Math.min(others.length, UNDER.length) - 1]!);
  const under = { ...area, y: area.y + area.height - height, height };
  const rest = { ...area, height: even(area.height - height - gap) };
  return give(
    slots,
    [large, ...others],
    [largeIn(rest, slots[large]!), ...gridOf(others.length, under, gap)],
  );
}

const largeIn = (area: Rect, kind: SlotKind): Rect =>
  kind === 'screen' ? area : fitAspect(area, LEAST_ASPECT, MOST_ASPECT);

function twoScreens(
  slots: readonly SlotKind[],
  screens: readonly number[],
  people: readonly number[],
  area: Rect,
  gap: number,
): Places {
  const height = people.length === 0 ? area.height : even(area.height * 0.56);
  const width = even((area.width - gap) / 2);
  const halves = [area.x, area.x + area.width - width].map((x) => ({ x, y: area.y, width, height }));
  const under = { ...area, y: area.y + height + gap, height: even(area.height - height - gap) };
  const row = people.length === 0 ? [] : gridOf(people.length, under, gap);
  return give(slots, [...screens, ...people], [...halves, ...row]);
}

/** In the corner where a line that is read from the left ends. */
function insetOf(size: Size, gap: number, taken: Taken): Rect {
  const area = freeOf(withinMargin(size, GRAPHICS_SAFE), gap, taken);
  const width = even(size.width * INSET_WIDTH);
  const height = even(width / INSET_ASPECT);
  return { x: area.x + area.width - width, y: area.y + area.height - height, width, height };
}

/** Of a place's height and width: the lower third's. */
const LOWER_THIRD_HEIGHT = 0.16;
const LOWER_THIRD_WIDTH = 0.62;
const LEAST_LOWER_THIRD_HEIGHT = 44;
const LEAST_LOWER_THIRD_WIDTH = 240;
/** Of a place: faces are above it. */
const MOST_LOWER_THIRD_HEIGHT = 0.34;

/** Where a name stands in a person's place: at its foot, from its left edge, within what is free of the graphics-safe area. */
export function lowerThirdOf(place: Rect, size: Size, taken: Taken = {}): Rect {
  const safe = freeOf(withinMargin(size, GRAPHICS_SAFE), even(size.height * GRAPHICS_GAP), taken);
  const scale = size.height / 720;
  const least = Math.min(LEAST_LOWER_THIRD_HEIGHT * scale, place.height * MOST_LOWER_THIRD_HEIGHT);
  const height = even(Math.max(least, place.height * LOWER_THIRD_HEIGHT));
  const x = Math.max(place.x, safe.x);
  const right = Math.min(place.x + place.width, safe.x + safe.width);
  const width = even(
    Math.min(right - x, Math.max(place.width * LOWER_THIRD_WIDTH, LEAST_LOWER_THIRD_WIDTH * scale)),
  );
  const foot = Math.min(place.y + place.height * 0.94, safe.y + safe.height);
  return { x, y: even(foot - height), width, height };
}

/** Of the shorter side of a place. */
const PORTRAIT = 0.46;

/** Where a person's initials stand while their picture is not there: a square above their name. */
export function portraitIn({ x, y, width, height }: Rect): Rect {
  const side = even(Math.min(width, height) * PORTRAIT);
  return { x: even(x + (width - side) / 2), y: even(y + (height - side) * 0.42), width: side, height: side };
}

/** Where a viewer's message stands: across the foot of the programme, above a band. */
export function messageCardOf(size: Size, taken: Taken = {}): Rect {
  const safe = freeOf(withinMargin(size, GRAPHICS_SAFE), even(size.height * GRAPHICS_GAP), taken);
  const width = even(size.width * 0.86);
  const height = even(size.height * 0.2);
  return { x: even((size.width - width) / 2), y: even(safe.y + safe.height - height), width, height };
}

const BAND_HEIGHT = 0.07;
/** Of the programme's height: what is left free between graphics. */
const GRAPHICS_GAP = 0.02;

/** Where a line of words runs: from edge to edge, with its foot in the graphics-safe area. */
export function bandOf(size: Size): Rect {
  const safe = withinMargin(size, GRAPHICS_SAFE);
  const height = even(size.height * BAND_HEIGHT);
  return { x: 0, y: even(safe.y + safe.height - height), width: size.width, height };
}

/** What graphics take of the picture for themselves. */
export interface Taken {
  /** At the foot, from edge to edge. */
  readonly band?: Rect | undefined;
  /** A column at the left or the right. */
  readonly side?: Rect | undefined;
}

/** What of an area is left beside what is taken, with this distance from it. */
export function freeOf(area: Rect, gap: number, { band, side }: Taken): Rect {
  const foot = band ? Math.min(area.y + area.height, band.y - gap) : area.y + area.height;
  const isLeft = side && side.x - area.x < area.x + area.width - (side.x + side.width);
  const left = isLeft ? Math.max(area.x, even(side.x + side.width + gap)) : area.x;
  const right = side && !isLeft ? Math.min(area.x + area.width, side.x - gap) : area.x + area.width;
  return { x: left, y: area.y, width: even(right - left), height: even(foot - area.y) };
}

/**
 * A column at one side, below the line of the corners and above what stands at the foot.
 *
 * @param width share of the picture's
 * @param foot what stands there; nothing: down to the edge of the graphics-safe area
 * @param corners how high the highest of what stands in the corners is, by the usual height of it
 */
export function sideOf(side: 'left' | 'right', width: number, size: Size, foot?: Rect, corners = 1): Rect {
  const safe = withinMargin(size, GRAPHICS_SAFE);
  const gap = even(size.height * GRAPHICS_GAP);
  const top = safe.y + even(size.height * CORNER_HEIGHT * corners) + gap;
  const wide = even(size.width * width);
  const bottom = foot ? foot.y - gap : safe.y + safe.height;
  const x = side === 'left' ? safe.x : safe.x + safe.width - wide;
  return { x, y: top, width: wide, height: even(bottom - top) };
}

const CORNER_HEIGHT = 0.065;
/** Of the picture's height: what the line of the corners takes, with what is left free below it. */
export const CORNER_LINE = CORNER_HEIGHT + GRAPHICS_GAP;

export const CORNERS = ['top_left', 'top_right'] as const;
export type Corner = (typeof CORNERS)[number];

/**
 * Where a few words stand in an upper corner: within the graphics-safe area, above faces.
 *
 * @param width share of the picture's
 * @param taken share of the picture's width that others take in this corner
 * @param scale by which it is higher than is usual
 */
export function cornerOf(corner: Corner, width: number, taken: number, size: Size, scale = 1): Rect {
  const safe = withinMargin(size, GRAPHICS_SAFE);
  const [wide, from] = [even(size.width * width), even(size.width * taken)];
  const x = corner === 'top_left' ? safe.x + from : safe.x + safe.width - from - wide;
  return { x, y: safe.y, width: wide, height: even(size.height * CORNER_HEIGHT * scale) };
}

/** The part of a source's frame that fills a place without being stretched: its middle. */
export function cropToFill(source: Size, place: Size): Rect {
  const scale = Math.min(source.width / place.width, source.height / place.height);
  const [width, height] = [place.width * scale, place.height * scale];
  return { x: (source.width - width) / 2, y: (source.height - height) / 2, width, height };
}

/** The part of a place that a source's frame takes when all of it is shown: in its middle. */
export function fitWhole(source: Size, place: Rect): Rect {
  const aspect = source.width / source.height;
  return fitAspect(place, aspect, aspect);
}
