import fc from 'fast-check';
import {
  ACTION_SAFE,
  automatic,
  cropToFill,
  fitWhole,
  GRAPHICS_SAFE,
  gridOf,
  LAYOUTS,
  lowerThirdOf,
  messageCardOf,
  MOST_IN_PICTURE,
  placesOf,
  type Layout,
  type SlotKind,
} from './layouts';
import { contains, overlap, PROGRAMME, withinMargin, type Rect, type Size } from './rect';

const anySize = fc.constantFrom<Size>(PROGRAMME, { width: 1920, height: 1080 }, { width: 640, height: 360 });
const anySlots = fc.array(fc.constantFrom<SlotKind>('person', 'person', 'screen'), {
  minLength: 1,
  maxLength: MOST_IN_PICTURE,
});
/** Between two, of the picture's height: from none to the widest of a dressing. */
const anySpace = fc.double({ min: 0, max: 1 / 18, noNaN: true });
const anyLayout = fc.constantFrom(...LAYOUTS);
const seen = (places: readonly (Rect | null)[]) => places.filter((place) => place !== null);
const whole = (size: Size): Rect => ({ x: 0, y: 0, ...size });
const area = ({ width, height }: Rect) => width * height;
const people = (count: number): SlotKind[] => Array.from({ length: count }, () => 'person');

describe('layouts', () => {
  it('give places that are inside, even, and apart from one another but for an inset', () => {
    fc.assert(
      fc.property(anyLayout, anySlots, anySize, anySpace, (layout, slots, size, space) => {
        const places = placesOf(layout, slots, size, {}, space);
        expect(places.length).toBe(slots.length);
        const rects = seen(places);
        expect(rects.length).toBeGreaterThan(0);
        rects.forEach((rect, i) => {
          expect(contains(whole(size), rect)).toBeTrue();
          expect([rect.x, rect.y, rect.width, rect.height].every((n) => n % 2 === 0)).toBeTrue();
          expect(Math.min(rect.width, rect.height)).toBeGreaterThan(0);
          if (layout === 'inset') return;
          expect(rects.slice(i + 1).some((other) => overlap(rect, other))).toBeFalse();
        });
      }),
    );
  });

  it('stand as far apart as the dressing wants', () => {
    const between = (space: number) => {
      const [first, second] = placesOf('pair', people(2), PROGRAMME, {}, space);
      return second!.x - first!.x - first!.width;
    };
    expect([0, 1 / 90, 1 / 36, 1 / 18].map(between)).toEqual([0, 8, 20, 40]);
  });

  it('keep to the action-safe area but for what fills the picture', () => {
    fc.assert(
      fc.property(anyLayout, anySlots, anySize, (layout, slots, size) => {
        const safe = withinMargin(size, ACTION_SAFE);
        for (const rect of seen(placesOf(layout, slots, size)))
          expect(area(rect) === area(whole(size)) || contains(safe, rect)).toBeTrue();
      }),
    );
  });

  it('show everybody, unless they are for fewer', () => {
    const most: Partial<Record<Layout, number>> = { alone: 1, pair: 2, inset: 2 };
    fc.assert(
      fc.property(anyLayout, anySlots, (layout, slots) => {
        const screens = slots.filter((kind) => kind === 'screen').length;
        const chosen = layout === 'auto' ? automatic(slots.length - screens, screens) : layout;
        // Two screens have room for two; a third waits.
        const left = chosen === 'screens' ? Math.max(0, screens - 2) : 0;
        const expected = Math.min(slots.length - left, most[chosen] ?? Infinity);
        expect(seen(placesOf(layout, slots, PROGRAMME)).length).toBe(expected);
      }),
    );
  });

  it('depend on how many there are alone, so nobody moves who need not', () => {
    fc.assert(
      fc.property(anyLayout, anySlots, (layout, slots) => {
        expect(placesOf(layout, slots, PROGRAMME)).toEqual(placesOf(layout, [...slots], PROGRAMME));
        // Somebody who comes last takes nobody's turn: those before them are read in the order in which they were.
        const rects = placesOf('row', people(slots.length), PROGRAMME) as Rect[];
        expect(rects.every((rect, i) => i === 0 || rect.x > rects[i - 1]!.x)).toBeTrue();
      }),
    );
    for (let count = 2; count < MOST_IN_PICTURE; count++) {
      const columns = (n: number) =>
        new Set(placesOf('grid', people(n), PROGRAMME).map((rect) => rect!.y)).size;
      expect(Math.abs(columns(count + 1) - columns(count)))
        .withContext('rows of a grid')
        .toBeLessThanOrEqual(1);
    }
  });

  it('use the area of a grid best', () => {
    const inside = withinMargin(PROGRAMME, ACTION_SAFE);
    for (let count = 2; count <= MOST_IN_PICTURE; count++) {
      const used = gridOf(count, inside, 20).reduce((sum, rect) => sum + area(rect), 0);
      expect(used / area(inside))
        .withContext(`${count} people`)
        .toBeGreaterThan(count === 11 || count === 7 || count === 10 ? 0.68 : 0.74);
    }
  });

  it('show one alone in full, whatever the layout, and the backdrop alone when nobody is there', () => {
    for (const layout of LAYOUTS) {
      expect(placesOf(layout, ['person'], PROGRAMME)).toEqual([whole(PROGRAMME)]);
      expect(placesOf(layout, [], PROGRAMME)).toEqual([]);
    }
  });

  it('are the same on both sides where all are alike', () => {
    for (const layout of ['pair', 'row', 'grid'] as const) {
      for (let count = 2; count <= MOST_IN_PICTURE; count++) {
        const rects = seen(placesOf(layout, people(count), PROGRAMME));
        const mirrored = rects.map(({ x, width }) => PROGRAMME.width - x - width);
        for (const x of mirrored) expect(rects.some((rect) => Math.abs(rect.x - x) <= 4)).toBeTrue();
      }
    }
  });

  it('give a screen the most room, wherever it stands in the order', () => {
    for (const layout of ['auto', 'column', 'inset'] as const) {
      for (const slots of [['person', 'screen', 'person'] as const, ['screen', 'person'] as const]) {
        const places = placesOf(layout, slots, PROGRAMME);
        const screen = area(places[slots.indexOf('screen')]!);
        places.forEach((place, i) => {
          if (place && slots[i] === 'person') expect(area(place) * 2).toBeLessThan(screen);
        });
      }
    }
    const two = placesOf('auto', ['screen', 'person', 'screen'], PROGRAMME);
    expect([two[0]!.y, two[0]!.width]).toEqual([two[2]!.y, two[2]!.width]);
  });
});

describe('what is chosen by itself', () => {
  it('goes by who and what is there', () => {
    const table: [people: number, screens: number, Layout][] = [
      [0, 0, 'alone'],
      [1, 0, 'alone'],
      [2, 0, 'pair'],
      [3, 0, 'row'],
      [4, 0, 'grid'],
      [0, 1, 'alone'],
      [1, 1, 'column'],
      [5, 1, 'column'],
      [0, 2, 'screens'],
      [3, 2, 'screens'],
    ];
    for (const [count, screens, layout] of table) expect(automatic(count, screens)).toBe(layout);
  });
});

describe('a frame in its place', () => {
  const anyFrame = fc.record({
    width: fc.integer({ min: 160, max: 1920 }),
    height: fc.integer({ min: 160, max: 1920 }),
  });

  it('fills it without stretching, from its middle', () => {
    fc.assert(
      fc.property(anyFrame, anyFrame, (source, place) => {
        const crop = cropToFill(source, place);
        expect(crop.width / crop.height).toBeCloseTo(place.width / place.height, 6);
        expect(crop.x * 2 + crop.width).toBeCloseTo(source.width, 6);
        expect(crop.y * 2 + crop.height).toBeCloseTo(source.height, 6);
        expect(crop.x).toBeGreaterThanOrEqual(-1e-9);
        expect(crop.y).toBeGreaterThanOrEqual(-1e-9);
      }),
    );
  });

  it('or stands whole in it', () => {
    fc.assert(
      fc.property(anyFrame, anyFrame, (source, size) => {
        const place = { x: 10, y: 20, ...size };
        const rect = fitWhole(source, place);
        expect(contains({ ...place, x: 9, y: 19 }, rect) || contains(place, rect)).toBeTrue();
        const tight = rect.width > place.width - 2 || rect.height > place.height - 2;
        expect(tight).withContext('as large as it can be').toBeTrue();
      }),
    );
  });
});

describe('a lower third', () => {
  it('stands at the foot of its place, where graphics are safe, and leaves the face free', () => {
    fc.assert(
      fc.property(anyLayout, anySlots, anySize, (layout, slots, size) => {
        for (const place of seen(placesOf(layout, slots, size))) {
          const third = lowerThirdOf(place, size);
          expect(contains(place, third)).toBeTrue();
          expect(contains(withinMargin(size, GRAPHICS_SAFE), third)).toBeTrue();
          expect(third.y).toBeGreaterThanOrEqual(place.y + place.height / 2);
          expect(Math.min(third.width, third.height)).toBeGreaterThan(0);
        }
      }),
    );
  });
});

describe('a message card', () => {
  it('stands in the lower third of the picture, where graphics are safe', () => {
    fc.assert(
      fc.property(anySize, (size) => {
        const card = messageCardOf(size);
        expect(contains(withinMargin(size, GRAPHICS_SAFE), card)).toBeTrue();
        expect(card.y).toBeGreaterThan((size.height * 2) / 3);
      }),
    );
  });
});
