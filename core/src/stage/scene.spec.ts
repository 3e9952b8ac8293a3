import fc from 'fast-check';
import { LAYOUTS, MOST_IN_PICTURE } from './layouts';
import { overlap, PROGRAMME } from './rect';
import {
  changeScene,
  EMPTY_SCENE,
  geometry,
  MESSAGE_LAYER,
  nameLayerOf,
  peopleIn,
  placedIn,
  seenIn,
  withMessage,
  type Scene,
  type SceneEvent,
} from './scene';
import { DESK_OWNER, nameOf, sourceId, type SourceId } from './sources';

const camera = (person: string, number = 1) => sourceId('camera', person, number);
const screen = (person: string) => sourceId('screen', person);

function after(...events: SceneEvent[]): Scene {
  return events.reduce((scene: Scene, event) => {
    const next = changeScene(scene, event);
    if (typeof next === 'string') throw new Error(next);
    return next;
  }, EMPTY_SCENE);
}
const on = (source: SourceId): SceneEvent => ({ type: 'bring_on', source });
const off = (source: SourceId): SceneEvent => ({ type: 'take_off', source });
const names = (on: boolean): SceneEvent => ({ type: 'names', on });

const anySource = fc.constantFrom(
  ...['a', 'b', 'c', 'd'].flatMap((person) => [camera(person), camera(person, 2), screen(person)]),
  ...Array.from({ length: 12 }, (_, i) => camera(`p${i}`)),
);
const anyEvent: fc.Arbitrary<SceneEvent> = fc.oneof(
  fc.record({ type: fc.constant('bring_on' as const), source: anySource }),
  fc.record({ type: fc.constant('take_off' as const), source: anySource }),
  fc.record({ type: fc.constant('move' as const), source: anySource, to: fc.nat(MOST_IN_PICTURE) }),
  fc.record({ type: fc.constant('layout' as const), layout: fc.constantFrom(...LAYOUTS) }),
  fc.record({ type: fc.constant('names' as const), on: fc.boolean() }),
);
const anyScene = fc.array(anyEvent, { maxLength: 40 }).map((events) =>
  events.reduce((scene: Scene, event) => {
    const next = changeScene(scene, event);
    return typeof next === 'string' ? scene : next;
  }, EMPTY_SCENE),
);

describe('a source', () => {
  it('says what it is and whose, and what is none is refused', () => {
    expect(nameOf(screen('odalys'))).toEqual({ kind: 'screen', owner: 'odalys', number: 1 });
    expect(nameOf(camera('odalys', 2)).number).toBe(2);
    for (const wrong of [
      '',
      'camera:',
      'camera:a',
      'camera:a:0',
      'mirror:a:1',
      'camera:a b:1',
      'camera:a:1:2',
    ])
      expect(() => nameOf(wrong as SourceId)).toThrowError(RangeError);
  });
});

describe('a scene', () => {
  it('comes about by its events', () => {
    const table: [string, Scene, readonly SourceId[]][] = [
      ['nobody', EMPTY_SCENE, []],
      [
        'in the order in which they come',
        after(on(camera('a')), on(camera('b'))),
        [camera('a'), camera('b')],
      ],
      ['once each', after(on(camera('a')), on(camera('a'))), [camera('a')]],
      [
        'two cameras of one person',
        after(on(camera('a')), on(camera('a', 2))),
        [camera('a'), camera('a', 2)],
      ],
      ['taken off', after(on(camera('a')), on(camera('b')), off(camera('a'))), [camera('b')]],
      ['taken off who is not there', after(on(camera('a')), off(camera('b'))), [camera('a')]],
      [
        'moved to the front',
        after(on(camera('a')), on(camera('b')), on(screen('a')), {
          type: 'move',
          source: screen('a'),
          to: 0,
        }),
        [screen('a'), camera('a'), camera('b')],
      ],
      [
        'moved beyond the end',
        after(on(camera('a')), on(camera('b')), { type: 'move', source: camera('a'), to: 9 }),
        [camera('b'), camera('a')],
      ],
      ['cleared', after(on(camera('a')), { type: 'clear' }), []],
    ];
    for (const [what, scene, placed] of table) expect(placedIn(scene)).withContext(what).toEqual(placed);
  });

  it('names people once each, screens never, and nobody when names are off', () => {
    const of = (scene: Scene) =>
      scene.layers.filter(({ place }) => place.by === 'layer').map(({ source }) => source);
    const three = [on(camera('a')), on(camera('a', 2)), on(screen('b'))];
    expect(of(after(...three))).toEqual([nameLayerOf(camera('a'))]);
    expect(of(after(...three, names(false)))).toEqual([]);
    expect(of(after(names(false), ...three, names(true)))).toEqual([nameLayerOf(camera('a'))]);
    expect(of(after(...three, off(camera('a'))))).toEqual([nameLayerOf(camera('a', 2))]);
    expect(of(after(...three, off(camera('a')), off(camera('a', 2))))).toEqual([]);
  });

  it('says whom it shows, each once', () => {
    const ofTheDesk = sourceId('screen', DESK_OWNER);
    const scene = after(on(camera('a')), on(screen('a')), on(ofTheDesk), on(camera('b')));
    expect(peopleIn(scene)).toEqual(['a', 'b']);
  });

  it('is full at some point, and has room again when somebody leaves', () => {
    const full = after(...Array.from({ length: MOST_IN_PICTURE }, (_, i) => on(camera(`p${i}`))));
    expect(changeScene(full, on(camera('another')))).toBe('full');
    expect(changeScene(full, on(camera('p3'))))
      .withContext('is there already')
      .toBe(full);
    const room = changeScene(full, off(camera('p3'))) as Scene;
    expect(placedIn(changeScene(room, on(camera('another'))) as Scene).at(-1)).toBe(camera('another'));
  });

  it('may be given the same event twice', () => {
    fc.assert(
      fc.property(anyScene, anyEvent, (scene, event) => {
        const once = changeScene(scene, event);
        if (typeof once !== 'string') expect(changeScene(once, event)).toEqual(once);
      }),
    );
  });
});

describe('the geometry of a scene', () => {
  it('places each layer once; words stand over nothing but their own picture', () => {
    fc.assert(
      fc.property(anyScene, fc.boolean(), (scene, message) => {
        const layers = geometry(message ? withMessage(scene) : scene, PROGRAMME);
        expect(new Set(layers.map(({ source }) => source)).size).toBe(layers.length);
        const words = layers.filter(({ source }) => nameOf(source).kind === 'overlay');
        words.forEach((one, i) =>
          expect(words.slice(i + 1).some((other) => overlap(one.rect, other.rect))).toBeFalse(),
        );
        expect(layers.some(({ source }) => source === MESSAGE_LAYER)).toBe(message);
        // Overlays over pictures: nothing is drawn over words.
        const firstWords = layers.findIndex(({ source }) => nameOf(source).kind === 'overlay');
        const after = firstWords < 0 ? [] : layers.slice(firstWords);
        expect(after.every(({ source }) => nameOf(source).kind === 'overlay')).toBeTrue();
      }),
    );
  });

  it('draws an inset over its screen, whichever came first', () => {
    for (const order of [
      [camera('a'), screen('a')],
      [screen('a'), camera('a')],
    ]) {
      const scene = after(...order.map(on), { type: 'layout', layout: 'inset' }, names(false));
      expect(geometry(scene, PROGRAMME).map(({ source }) => source)).toEqual([screen('a'), camera('a')]);
    }
  });

  it('lets the names give way that a message would cover, and no other', () => {
    const two = after(...['a', 'b', 'c', 'd'].map((person) => on(camera(person))));
    const shown = (scene: Scene) => geometry(scene, PROGRAMME).map(({ source }) => source);
    expect(shown(two)).toContain(nameLayerOf(camera('d')));
    const covered = shown(withMessage(two));
    expect(covered).not.toContain(nameLayerOf(camera('d')));
    expect(covered).toContain(nameLayerOf(camera('a')));
  });

  it('knows who is heard and not seen, since a layout is for fewer', () => {
    const [ada, bea, cy] = [camera('ada'), camera('bea'), camera('cy')];
    const scene = after(on(ada), on(bea), on(cy));
    expect(seenIn(scene)).toEqual([ada, bea, cy]);
    expect(seenIn({ ...scene, layout: 'pair' })).toEqual([ada, bea]);
    expect(seenIn({ ...scene, layout: 'alone' })).toEqual([ada]);
  });
});
