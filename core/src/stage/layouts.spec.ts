import fc from 'fast-check';
import { cropToFill, LAYOUTS, lowerThirdOf, PROGRAMME, seenIn, tilesOf, type Rect } from './layout';

const within = (inner: Rect, outer: Rect) =>
  inner.x >= outer.x &&
  inner.y >= outer.y &&
  inner.x + inner.width <= outer.x + outer.width &&
  inner.y + inner.height <= outer.y + outer.height;
const apart = (a: Rect, b: Rect) =>
  a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y;
const anySize = fc.record({
  width: fc.integer({ min: 320, max: 1920 }),
  height: fc.integer({ min: 180, max: 1080 }),
});

describe('layouts', () => {
  it('give a tile to each who is seen: inside, even, apart from one another', () => {
    fc.assert(
      fc.property(fc.constantFrom(...LAYOUTS), fc.nat(12), anySize, (layout, onStage, given) => {
        const size = { width: given.width & ~1, height: given.height & ~1 };
        const tiles = tilesOf(layout, onStage, size);
        expect(tiles.length).toBe(seenIn(layout, onStage));
        tiles.forEach((tile, i) => {
          expect(within(tile, { x: 0, y: 0, ...size })).toBeTrue();
          expect([tile.x, tile.y, tile.width, tile.height].every((n) => n % 2 === 0)).toBeTrue();
          expect(Math.min(tile.width, tile.height)).toBeGreaterThan(0);
          expect(tiles.slice(i + 1).every((other) => apart(tile, other))).toBeTrue();
        });
      }),
    );
  });

  it('show one alone in full, whatever the layout', () => {
    for (const layout of LAYOUTS) expect(tilesOf(layout, 1)).toEqual([{ x: 0, y: 0, ...PROGRAMME }]);
  });

  it('show the backdrop alone when nobody is on stage', () => {
    for (const layout of LAYOUTS) expect(tilesOf(layout, 0)).toEqual([]);
  });

  it('are the same on both sides', () => {
    for (const [layout, count] of [
      ['pair', 2],
      ['grid', 3],
      ['grid', 4],
      ['grid', 9],
    ] as const) {
      const tiles = tilesOf(layout, count);
      const mirrored = tiles.map(({ x, width }) => PROGRAMME.width - x - width);
      for (const x of mirrored) expect(tiles.some((tile) => Math.abs(tile.x - x) <= 2)).toBeTrue();
    }
  });

  it('refuse half a person', () => {
    expect(() => tilesOf('grid', 1.5)).toThrowError(RangeError);
    expect(() => tilesOf('grid', -1)).toThrowError(RangeError);
  });
});

describe('a crop', () => {
  it('fills the tile without stretching, from the middle', () => {
    fc.assert(
      fc.property(anySize, anySize, (source, tile) => {
        const crop = cropToFill(source, tile);
        expect(crop.width / crop.height).toBeCloseTo(tile.width / tile.height, 6);
        expect(crop.x * 2 + crop.width).toBeCloseTo(source.width, 6);
        expect(crop.y * 2 + crop.height).toBeCloseTo(source.height, 6);
        expect(crop.x).toBeGreaterThanOrEqual(-1e-9);
        expect(crop.y).toBeGreaterThanOrEqual(-1e-9);
      }),
    );
  });
});

describe('a lower third', () => {
  it('stands inside its tile, at its foot', () => {
    for (const layout of LAYOUTS) {
      for (let count = 1; count <= 9; count++) {
        for (const tile of tilesOf(layout, count)) {
          const third = lowerThirdOf(tile);
          expect(within(third, tile)).toBeTrue();
          expect(third.y).toBeGreaterThan(tile.y + tile.height / 2);
        }
      }
    }
  });
});
