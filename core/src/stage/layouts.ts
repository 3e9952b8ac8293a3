/**
 * Where things stand in the programme's picture. All in pixels of the programme, whole and even, because the encoder
 * halves colour in both directions.
 */
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

/** The programme's size. */
export const PROGRAMME: Size = { width: 1280, height: 720 };

/** One person alone, two side by side, or everybody in rows. */
export const LAYOUTS = ['single', 'pair', 'grid'] as const;
export type Layout = (typeof LAYOUTS)[number];

/** So many are seen at once; who comes later waits until somebody leaves. */
export const MOST_ON_STAGE = 9;
const SEEN: Record<Layout, number> = { single: 1, pair: 2, grid: MOST_ON_STAGE };

/** Of the programme's height: what is left free around and between tiles. */
const GAP = 1 / 30;
/** Of a tile's height and width: the lower third's. */
const LOWER_THIRD_HEIGHT = 0.16;
const LOWER_THIRD_WIDTH = 0.62;
const LEAST_LOWER_THIRD_HEIGHT = 44;

/** How many of those on stage a layout shows. */
export const seenIn = (layout: Layout, onStage: number): number => Math.min(SEEN[layout], onStage);

/**
 * The tiles of a layout, in the order of the stage. Nobody on stage: none, and the backdrop is seen alone. With too
 * few people a layout closes up: a pair of one is a single.
 *
 * @param onStage 0 or more; those beyond what the layout shows get no tile
 */
export function tilesOf(layout: Layout, onStage: number, size: Size = PROGRAMME): Rect[] {
  if (!Number.isInteger(onStage) || onStage < 0)
    throw new RangeError('onStage must be a whole number of 0 or more');
  const count = seenIn(layout, onStage);
  if (count === 0) return [];
  if (count === 1) return [{ x: 0, y: 0, ...size }];
  const gap = even(size.height * GAP);
  if (layout === 'pair') {
    const width = even((size.width - 3 * gap) / 2);
    // Nearly square: two faces are upright, and the backdrop shows above and below.
    const height = Math.min(even(width * 0.9), size.height - 2 * gap);
    const y = even((size.height - height) / 2);
    return [gap, size.width - gap - width].map((x) => ({ x: even(x), y, width, height }));
  }
  return gridOf(count, gap, size);
}

/** Rows of tiles of the programme's own shape; a last row that is not full stands in the middle. */
function gridOf(count: number, gap: number, size: Size): Rect[] {
  const columns = Math.ceil(Math.sqrt(count));
  const rows = Math.ceil(count / columns);
  const width = even(
    Math.min(
      (size.width - (columns + 1) * gap) / columns,
      (((size.height - (rows + 1) * gap) / rows) * size.width) / size.height,
    ),
  );
  const height = even((width * size.height) / size.width);
  const top = (size.height - rows * height - (rows - 1) * gap) / 2;
  return Array.from({ length: count }, (_, i) => {
    const row = Math.floor(i / columns);
    const inRow = Math.min(columns, count - row * columns);
    const left = (size.width - inRow * width - (inRow - 1) * gap) / 2;
    return {
      x: even(left + (i % columns) * (width + gap)),
      y: even(top + row * (height + gap)),
      width,
      height,
    };
  });
}

/** The part of a source's frame that fills a tile without being stretched: its middle. */
export function cropToFill(source: Size, tile: Size): Rect {
  const scale = Math.min(source.width / tile.width, source.height / tile.height);
  const [width, height] = [tile.width * scale, tile.height * scale];
  return { x: (source.width - width) / 2, y: (source.height - height) / 2, width, height };
}

/** Where a person's name stands in their tile: at its foot, from the left edge. Always within the tile. */
export function lowerThirdOf(tile: Rect): Rect {
  const height = Math.min(
    tile.height,
    Math.max(LEAST_LOWER_THIRD_HEIGHT, even(tile.height * LOWER_THIRD_HEIGHT)),
  );
  const width = Math.min(
    tile.width,
    Math.max(even(tile.width * LOWER_THIRD_WIDTH), Math.min(tile.width, 240)),
  );
  const y = tile.y + Math.max(0, even(tile.height - height - tile.height * 0.06));
  return { x: tile.x, y, width: even(width), height: even(height) };
}

/** Where a viewer's message stands: across the foot of the programme, over everything else. */
export function messageCardOf(size: Size = PROGRAMME): Rect {
  const width = even(size.width * 0.86);
  const height = even(size.height * 0.2);
  return { x: even((size.width - width) / 2), y: even(size.height * 0.955 - height), width, height };
}

const even = (value: number): number => Math.floor(value / 2) * 2;
