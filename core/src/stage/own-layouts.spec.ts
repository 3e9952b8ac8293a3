import fc from 'fast-check';
import { ACTION_SAFE, bandOf, type SlotKind } from './layouts';
import {
  caught,
  CATCHES,
  LEAST_PLACE,
  moved,
  placeAt,
  placesOfOwn,
  WHOLE,
  type Grip,
  type OwnLayout,
  type OwnPlace,
} from './own-layouts';
import { contains, overlap, PROGRAMME, type Rect } from './rect';
import { changeScene, EMPTY_SCENE, geometry, type Scene } from './scene';
import { sourceId } from './sources';

const own = (...places: OwnPlace[]): OwnLayout => ({ id: crypto.randomUUID(), name: 'Two and one', places });
const at = (x: number, y: number, width: number, height: number, kind: SlotKind = 'person'): OwnPlace => ({
  x,
  y,
  width,
  height,
  kind,
});
const anySpan = fc
  .tuple(fc.double({ min: 0, max: 1 - LEAST_PLACE, noNaN: true }), fc.double({ min: 0, max: 1, noNaN: true }))
  .map(([from, share]): [number, number] => [from, LEAST_PLACE + share * (1 - from - LEAST_PLACE)]);
const anyPlace = fc
  .tuple(anySpan, anySpan)
  .map(([[x, width], [y, height]]): OwnPlace => at(x, y, width, height));
const anyGrip = fc.constantFrom<Grip>(
  WHOLE,
  { left: true, top: true, right: false, bottom: false },
  { left: false, top: false, right: true, bottom: true },
  { left: false, top: false, right: true, bottom: false },
);
const anyStep = fc.double({ min: -1, max: 1, noNaN: true });
const isInside = ({ x, y, width, height }: OwnPlace) =>
  x >= -1e-9 &&
  y >= -1e-9 &&
  x + width <= 1 + 1e-9 &&
  y + height <= 1 + 1e-9 &&
  width >= LEAST_PLACE - 1e-9 &&
  height >= LEAST_PLACE - 1e-9;

describe('a layout of the team’s own', () => {
  const thirds = own(at(0, 0, 0.5, 1, 'screen'), at(0.5, 0, 0.5, 0.5), at(0.5, 0.5, 0.5, 0.5));
  const [left, upper, lower]: Rect[] = [
    { x: 0, y: 0, width: 640, height: 720 },
    { x: 640, y: 0, width: 640, height: 360 },
    { x: 640, y: 360, width: 640, height: 360 },
  ];
  const table: readonly [string, SlotKind[], (Rect | null)[]][] = [
    ['a screen takes the screen’s place, in whatever turn', ['person', 'screen'], [upper!, left!]],
    [
      'people take theirs first, and then what is left',
      ['person', 'person', 'person'],
      [upper!, lower!, left!],
    ],
    ['a second screen takes what is left', ['screen', 'screen'], [left!, upper!]],
    [
      'more than there are places are not seen',
      ['person', 'person', 'screen', 'person'],
      [upper!, lower!, left!, null],
    ],
  ];
  for (const [what, slots, wanted] of table)
    it(what, () => expect(placesOfOwn(thirds, slots, PROGRAMME)).toEqual(wanted));

  it('stands beside what graphics take, but for what fills the picture', () => {
    const band = bandOf(PROGRAMME);
    const over = own(at(0, 0, 1, 1, 'screen'), at(0.5, 0.5, 0.5, 0.5));
    const [screen, person] = placesOfOwn(over, ['screen', 'person'], PROGRAMME, { band });
    expect(screen).toEqual({ x: 0, y: 0, ...PROGRAMME });
    expect(overlap(person!, band)).toBeFalse();
  });

  it('gives even places inside the picture, whatever was made', () => {
    fc.assert(
      fc.property(fc.array(anyPlace, { minLength: 1, maxLength: 12 }), (places) => {
        const kinds = places.map(() => 'person' as const);
        for (const rect of placesOfOwn(own(...places), kinds, PROGRAMME)) {
          expect(contains({ x: 0, y: 0, ...PROGRAMME }, rect!)).toBeTrue();
          expect([rect!.x, rect!.y, rect!.width, rect!.height].every((n) => n % 2 === 0)).toBeTrue();
          expect(Math.min(rect!.width, rect!.height)).toBeGreaterThan(0);
        }
      }),
    );
  });

  it('begins as everybody stands, and stands so', () => {
    const scene = ['a', 'b', 'c'].reduce<Scene>(
      (before, who) => changeScene(before, { type: 'bring_on', source: sourceId('camera', who) }) as Scene,
      { ...EMPTY_SCENE, layout: 'beside' },
    );
    const people = (of: Scene) => geometry(of, PROGRAMME).filter(({ source }) => source.startsWith('camera'));
    const before = people(scene);
    const layout = own(...before.map(({ rect }) => placeAt(rect, 'person', PROGRAMME)));
    const after = changeScene(scene, { type: 'own_layout', own: layout }) as Scene;
    expect(people(after).map(({ rect }) => rect)).toEqual(before.map(({ rect }) => rect));
    expect(after.layout).toBe('beside');
    // Another layout is chosen: the own one is left.
    expect((changeScene(after, { type: 'layout', layout: 'row' }) as Scene).own).toBeNull();
  });
});

describe('a place that is dragged', () => {
  it('stays in the picture, and no smaller than it may be', () => {
    fc.assert(
      fc.property(anyPlace, anyGrip, anyStep, anyStep, (place, grip, x, y) =>
        expect(isInside(moved(place, grip, x, y))).toBeTrue(),
      ),
    );
  });

  it('keeps its size when it is moved, and its other edges when one is', () => {
    fc.assert(
      fc.property(anyPlace, anyStep, anyStep, (place, x, y) => {
        const { width, height } = moved(place, WHOLE, x, y);
        expect([width, height]).toEqual([place.width, place.height]);
        const sized = moved(place, { ...WHOLE, left: false, top: false }, x, y);
        expect([sized.x, sized.y]).toEqual([place.x, place.y]);
      }),
    );
  });

  it('is caught by what is near, goes no further than that, and stays when it is caught again', () => {
    fc.assert(
      fc.property(anyPlace, anyGrip, fc.array(anyPlace, { maxLength: 4 }), (place, grip, others) => {
        const { place: pulled } = caught(place, grip, others);
        expect(isInside(pulled)).toBeTrue();
        const far = [pulled.x - place.x, pulled.y - place.y, pulled.width - place.width];
        expect(Math.max(...far.map(Math.abs))).toBeLessThanOrEqual(CATCHES + 1e-9);
        const again = caught(pulled, grip, others).place;
        expect(Math.abs(again.x - pulled.x) + Math.abs(again.width - pulled.width)).toBeLessThan(1e-9);
      }),
    );
  });

  const other = at(0.5, 0.1, 0.4, 0.4);
  const cases: readonly [
    string,
    OwnPlace,
    Grip,
    Partial<OwnPlace>,
    { x: number | null; y: number | null },
  ][] = [
    [
      'by the safe area',
      at(ACTION_SAFE + 0.008, 0.2, 0.2, 0.155),
      WHOLE,
      { x: ACTION_SAFE },
      { x: ACTION_SAFE, y: null },
    ],
    [
      'by the middle, with its own middle',
      at(0.405, 0.2, 0.2, 0.155),
      WHOLE,
      { x: 0.4 },
      { x: 0.5, y: null },
    ],
    ['by the upper edge of another', at(0.05, 0.105, 0.2, 0.155), WHOLE, { y: 0.1 }, { x: null, y: 0.1 }],
    [
      'by a gap beside another, of an edge that is sized',
      at(0.1, 0.2, 0.375, 0.155),
      { left: false, top: false, right: true, bottom: false },
      { width: 0.5 - 1 / 64 - 0.1 },
      { x: 0.5 - 1 / 64, y: null },
    ],
    [
      'by nothing that is far',
      at(0.06, 0.19, 0.211, 0.17),
      WHOLE,
      { x: 0.06, y: 0.19 },
      { x: null, y: null },
    ],
  ];
  for (const [what, place, grip, wanted, lines] of cases)
    it(`is caught ${what}`, () => {
      const result = caught(place, grip, [other]);
      for (const [key, value] of Object.entries(wanted))
        expect(result.place[key as 'x'])
          .withContext(key)
          .toBeCloseTo(value as number, 6);
      expect(result.lines.x === null ? null : result.lines.x.toFixed(4)).toBe(lines.x?.toFixed(4) ?? null);
      expect(result.lines.y === null ? null : result.lines.y.toFixed(4)).toBe(lines.y?.toFixed(4) ?? null);
    });
});
