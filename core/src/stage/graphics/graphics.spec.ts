import fc from 'fast-check';
import { BOX_SIDES, BOX_SIZES } from './chat-box';
import {
  CHAT_LAYER,
  CLOCK_LAYER,
  LINK_LAYER,
  PRODUCT_LAYER,
  SCORE_LAYER,
  TICKER_LAYER,
  withGraphics,
} from './graphic-layers';
import { addressWords, clockWords, readAddress, tickerOffset } from './graphic-words';
import {
  changeGraphics,
  graphicsOff,
  isAnyGraphicOn,
  MOST_OVERLAYS_ON,
  MOST_POINTS,
  NO_GRAPHICS,
  type Graphics,
  type GraphicsChange,
} from './graphics';
import { LAYOUTS, MOST_IN_PICTURE } from '../layouts';
import { contains, overlap, PROGRAMME, withinMargin, type Size } from '../rect';
import {
  BUG_LAYER,
  changeScene,
  EMPTY_SCENE,
  geometry,
  isOwnLayer,
  MESSAGE_LAYER,
  NOTICE_LAYER,
  ownLayerOf,
  withBug,
  withMessage,
  withOverlays,
} from '../scene';
import type { Scene } from '../scene';
import { nameOf, sourceId } from '../sources';

const after = (...changes: GraphicsChange[]): Graphics => changes.reduce(changeGraphics, NO_GRAPHICS);
const ALL_ON = after(
  { type: 'ticker', values: { isOn: true, lines: ['Doors at eight'] } },
  { type: 'clock', values: { isOn: true, reads: 'countdown', untilMs: 0 } },
  { type: 'score', values: { isOn: true, names: ['Rye', 'Spelt'] } },
  { type: 'chat', values: { isOn: true } },
  { type: 'link', values: { isOn: true, address: 'https://mill.example' } },
  { type: 'notices', values: { isOn: true } },
  { type: 'overlay', id: 'frame', isOn: true },
);

describe('the graphics of a desk', () => {
  it('come about by their changes', () => {
    const points = (side: 0 | 1, by: number): GraphicsChange => ({ type: 'points', side, by });
    const table: [string, GraphicsChange[], readonly [number, number]][] = [
      ['nothing counted', [], [0, 0]],
      ['each side', [points(0, 1), points(1, 3), points(0, 1)], [2, 3]],
      ['never less than none', [points(1, -1)], [0, 0]],
      ['never more than has room', [points(0, MOST_POINTS), points(0, 1)], [MOST_POINTS, 0]],
      ['anew', [points(0, 1), { type: 'points_reset' }], [0, 0]],
      ['whatever else is changed', [points(0, 1), { type: 'score', values: { isOn: true } }], [1, 0]],
    ];
    for (const [what, changes, expected] of table)
      expect(after(...changes).score.points)
        .withContext(what)
        .toEqual(expected);
  });

  it('count what two desks count at once, in whatever order it comes', () => {
    const anyPoints = fc.array(
      fc.record({
        type: fc.constant('points' as const),
        side: fc.constantFrom(0 as const, 1 as const),
        by: fc.integer({ min: 1, max: 5 }),
      }),
      { maxLength: 20 },
    );
    fc.assert(
      fc.property(anyPoints, (changes) => {
        expect(after(...changes.toReversed()).score.points).toEqual(after(...changes).score.points);
      }),
    );
  });

  it('are off when they are cleared, and keep what was written, and not what was counted', () => {
    const off = graphicsOff(changeGraphics(ALL_ON, { type: 'points', side: 1, by: 4 }));
    expect([off.clock.untilMs, off.score.points]).toEqual([null, [0, 0]]);
    expect([off.ticker.isOn, off.clock.isOn, off.score.isOn]).toEqual([false, false, false]);
    expect([off.ticker.lines, off.score.names]).toEqual([['Doors at eight'], ['Rye', 'Spelt']]);
    expect(withGraphics(EMPTY_SCENE, off)).toEqual(EMPTY_SCENE);
  });

  it('stay away while they have nothing to say', () => {
    const empty = after(
      { type: 'ticker', values: { isOn: true } },
      { type: 'clock', values: { isOn: true, reads: 'countdown' } },
    );
    expect(withGraphics(EMPTY_SCENE, empty).layers).toEqual([]);
  });
});

describe('overlays of the house', () => {
  it('come on over one another, each once, and leave', () => {
    const on = (id: string, isOn = true): GraphicsChange => ({ type: 'overlay', id, isOn });
    expect(after(on('a'), on('b'), on('a')).overlays).toEqual(['a', 'b']);
    expect(after(on('a'), on('b'), on('a', false), on('x', false)).overlays).toEqual(['b']);
    expect(after(on('a'), on('b'), on('a', false), on('a')).overlays).toEqual(['b', 'a']);
    const many = Array.from({ length: MOST_OVERLAYS_ON + 1 }, (_, i) => on(`o${i}`));
    expect(after(...many).overlays[0]).toBe('o1');
  });

  it('lie over pictures, and under names and all that is read', () => {
    const camera = sourceId('camera', 'a');
    const one = changeScene(EMPTY_SCENE, { type: 'bring_on', source: camera }) as Scene;
    const place = { x: 0.1, y: 0.5, width: 0.5, height: 0.25 };
    const over = withGraphics(withOverlays(withBug(one, 'top_left'), [{ id: 'frame', place }]), ALL_ON);
    const placed = geometry(over, PROGRAMME);
    expect(placed.map(({ source }) => source).slice(0, 2)).toEqual([camera, ownLayerOf('frame')]);
    expect(placed[1]!.rect).toEqual({ x: 128, y: 360, width: 640, height: 180 });
    expect(isOwnLayer(ownLayerOf('frame'))).toBeTrue();
    expect(isOwnLayer(BUG_LAYER)).toBeFalse();
  });

  it('go with all other graphics', () => {
    expect(isAnyGraphicOn(after({ type: 'overlay', id: 'a', isOn: true }))).toBeTrue();
    expect(isAnyGraphicOn(graphicsOff(ALL_ON))).toBeFalse();
    expect(isAnyGraphicOn(NO_GRAPHICS)).toBeFalse();
  });
});

describe('what stands at the foot', () => {
  it('is one thing: a message before a notice, a product before a link', () => {
    const foot = (scene: Scene, of: Graphics) =>
      withGraphics(scene, of)
        .layers.filter(({ place }) => place.by === 'foot')
        .map(({ source }) => source);
    const sold = changeGraphics(ALL_ON, { type: 'product', values: { isOn: true, name: 'Rye' } });
    expect(foot(EMPTY_SCENE, ALL_ON)).toEqual([LINK_LAYER]);
    expect(foot(EMPTY_SCENE, sold)).toEqual([PRODUCT_LAYER]);
    expect(foot(withMessage(EMPTY_SCENE), sold)).toEqual([MESSAGE_LAYER]);
    const noticed = withMessage(withGraphics(EMPTY_SCENE, sold), NOTICE_LAYER);
    expect(noticed.layers.filter(({ place }) => place.by === 'foot').map(({ source }) => source)).toEqual([
      NOTICE_LAYER,
    ]);
    const unnamed = changeGraphics(ALL_ON, { type: 'product', values: { isOn: true } });
    expect(foot(EMPTY_SCENE, unnamed)).withContext('nothing to sell').toEqual([LINK_LAYER]);
  });
});

describe('graphics over a scene', () => {
  const anyScene = fc
    .record({
      people: fc.nat(MOST_IN_PICTURE),
      screens: fc.nat(2),
      layout: fc.constantFrom(...LAYOUTS),
      bug: fc.constantFrom(null, 'top_left' as const, 'top_right' as const),
      scale: fc.constantFrom(0.75, 1, 1.6),
      message: fc.boolean(),
    })
    .map(({ people, screens, layout, bug, scale, message }): Scene => {
      const sources = [
        ...Array.from({ length: people }, (_, i) => sourceId('camera', `p${i}`)),
        ...Array.from({ length: screens }, (_, i) => sourceId('screen', `p${i}`)),
      ];
      const placed = sources.reduce(
        (scene: Scene, source) => {
          const next = changeScene(scene, { type: 'bring_on', source });
          return typeof next === 'string' ? scene : next;
        },
        { ...EMPTY_SCENE, layout },
      );
      const dressed = bug ? withBug(placed, bug, 0.24, scale) : placed;
      return message ? withMessage(dressed) : dressed;
    });
  const anyGraphics = fc
    .record({
      side: fc.constantFrom(...BOX_SIDES),
      size: fc.constantFrom(...BOX_SIZES),
      isOn: fc.boolean(),
    })
    .map((values) => changeGraphics(ALL_ON, { type: 'chat', values }));
  const anySize = fc.constantFrom<Size>(
    PROGRAMME,
    { width: 1920, height: 1080 },
    { width: 852, height: 480 },
    { width: 480, height: 270 },
  );

  it('overlap nothing but the pictures that lie under them, and stay in the safe area', () => {
    fc.assert(
      fc.property(anyScene, anyGraphics, anySize, (scene, of, size) => {
        const placed = geometry(withGraphics(scene, of), size);
        const graphics = placed.filter(({ source }) => nameOf(source).kind === 'overlay');
        for (const one of graphics)
          for (const other of graphics)
            if (one !== other && overlap(one.rect, other.rect))
              fail(`${one.source} overlaps ${other.source} in ${size.width}`);
        const taken = placed.filter(({ source }) => source === TICKER_LAYER || source === CHAT_LAYER);
        const whole = { x: 0, y: 0, ...size };
        for (const { source, rect } of placed)
          if (nameOf(source).kind !== 'overlay' && !contains(rect, whole))
            if (taken.some((one) => overlap(rect, one.rect))) fail(`${source} stands behind graphics`);
        for (const { source, rect } of placed)
          if (rect.width <= 0 || rect.height <= 0) fail(`${source} has no room in ${size.width}`);
        const safe = withinMargin(size, 0.05);
        for (const { source, rect } of graphics)
          if (source === TICKER_LAYER) expect(rect.y + rect.height).toBeLessThanOrEqual(safe.y + safe.height);
          else if (!contains(safe, rect)) fail(`${source} is cut off on a screen`);
      }),
    );
  });

  it('stand in one line: the clock beside the words of the house, the score in the other corner', () => {
    const rectOf = (scene: Scene, source: string, graphics = ALL_ON) =>
      geometry(withGraphics(scene, graphics), PROGRAMME).find((one) => one.source === source)!.rect;
    for (const [scene, isRight] of [
      [EMPTY_SCENE, true],
      [withBug(EMPTY_SCENE, 'top_left', 0.1), false],
      [withBug(EMPTY_SCENE, 'top_right', 0.2), true],
    ] as const) {
      const [clock, score] = [rectOf(scene, CLOCK_LAYER), rectOf(scene, SCORE_LAYER)];
      expect(clock.y).toBe(score.y);
      expect(clock.x > score.x).toBe(isRight);
      // Neither moves the other.
      const [noClock, noScore] = [
        changeGraphics(ALL_ON, { type: 'clock', values: { isOn: false } }),
        changeGraphics(ALL_ON, { type: 'score', values: { isOn: false } }),
      ];
      expect(rectOf(scene, SCORE_LAYER, noClock)).toEqual(score);
      expect(rectOf(scene, CLOCK_LAYER, noScore)).toEqual(clock);
    }
  });

  it('move what stands at the foot up, and nobody who fills the picture', () => {
    const alone = changeScene(EMPTY_SCENE, { type: 'bring_on', source: sourceId('camera', 'a') }) as Scene;
    const of = (scene: Scene, source: string) =>
      geometry(scene, PROGRAMME).find((one) => one.source === source)!.rect;
    const [before, with_] = [withMessage(alone), withGraphics(withMessage(alone), ALL_ON)];
    expect(of(with_, MESSAGE_LAYER).y).toBeLessThan(of(before, MESSAGE_LAYER).y);
    expect(of(with_, sourceId('camera', 'a'))).toEqual(of(before, sourceId('camera', 'a')));
  });
});

describe('a clock on the picture', () => {
  it('counts down in whole seconds, and then stands', () => {
    const left = (ms: number) => clockWords({ reads: 'countdown', zone: 'UTC', untilMs: 1e12 + ms }, 1e12);
    const table: [number, string][] = [
      [300_000, '5:00'],
      [299_999, '5:00'],
      [299_000, '4:59'],
      [1, '0:01'],
      [0, '0:00'],
      [-5000, '0:00'],
      [3_600_000, '1:00:00'],
      [36_061_000, '10:01:01'],
    ];
    for (const [ms, words] of table) expect(left(ms)).withContext(`${ms}`).toBe(words);
  });

  it('reads the time of day in its zone', () => {
    const at = Date.UTC(2026, 10, 29, 23, 5);
    const read = (zone: string) => clockWords({ reads: 'time_of_day', zone, untilMs: null }, at);
    expect([read('UTC'), read('Asia/Kathmandu')]).toEqual(['23:05', '04:50']);
  });
});

describe('an address on the picture', () => {
  it('is completed, and refused when it leads nowhere on the web', () => {
    const table: [string, string | null, string | null][] = [
      ['mill.example/doors', 'https://mill.example/doors', 'mill.example/doors'],
      [' https://mill.example/ ', 'https://mill.example/', 'mill.example'],
      ['http://mill.example', 'http://mill.example', 'mill.example'],
      ['mill', null, null],
      ['', null, null],
      ['javascript:alert(1)', null, null],
      ['ftp://mill.example', null, null],
      ['https://teo@mill.example', null, null],
      [`mill.example/${'x'.repeat(200)}`, null, null],
    ];
    for (const [written, address, words] of table) {
      expect(readAddress(written)).withContext(written).toBe(address);
      if (address !== null) expect(addressWords(address)).toBe(words!);
    }
  });

  it('gives way to a viewer’s message, and comes back after it', () => {
    const graphics = after({ type: 'link', values: { isOn: true, address: 'https://mill.example' } });
    const atFoot = (scene: Scene) =>
      geometry(scene, PROGRAMME)
        .map(({ source }) => source)
        .filter((source) => source === LINK_LAYER || source === MESSAGE_LAYER);
    const linked = withGraphics(EMPTY_SCENE, graphics);
    expect(atFoot(linked)).toEqual([LINK_LAYER]);
    expect(atFoot(withMessage(linked))).toEqual([MESSAGE_LAYER]);
  });
});

describe('a ticker', () => {
  it('runs in whole steps, begins anew after its length, and stands when it has none', () => {
    for (const [height, rate, step] of [
      [720, 30, 4],
      [720, 60, 2],
      [1080, 30, 6],
      [1080, 60, 3],
    ] as const)
      for (let frame = 1; frame < 200; frame++)
        expect(tickerOffset((frame * 1000) / rate, height, 100_000)).toBe(frame * step);
    expect(tickerOffset(10_000, 720, 1000)).toBe(200);
    expect(tickerOffset(5000, 720, 0)).toBe(0);
  });
});
