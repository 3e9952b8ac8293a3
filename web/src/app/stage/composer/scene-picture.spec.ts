import { measuresOf, PLAIN_DRESSING, type Frames } from '@juncta/core/dressing';
import {
  AS_IT_COMES,
  bandOf,
  EMPTY_SCENE,
  geometry,
  nameLayerOf,
  NO_CHAT_BOX,
  NO_GRAPHICS,
  placedIn,
  PROGRAMME,
  sourceId,
  withGraphics,
  type Adjustment,
  type Graphics,
  type Layout,
  type SourceId,
} from '@juncta/core/stage';
import { NONE_DRAWN, type DrawnGraphics, type DrawnScene } from '../messages';
import { bitmap, frame } from '../../testing/pictures';
import { ChatColumn } from './chat-column';
import { Mix } from './mix';
import { ScenePicture } from './scene-picture';

interface Shown {
  videoFrame: VideoFrame | null;
  videoFrameNumber: number;
}

const IDS = [
  sourceId('camera', 'a'),
  sourceId('camera', 'b'),
  sourceId('screen', 'a'),
  sourceId('camera', 'c'),
] as const;
const A = IDS[0];
/** Red under a half of black, as it lies in memory: alpha, blue, green, red. */
const DARK_RED = 0xff00007f;

const backdrop = () => ({ image: bitmap(PROGRAMME.width, PROGRAMME.height, '#204030'), passes: 0 });
const card = () => bitmap(1100, 144, 'rgba(250, 240, 200, 0.6)');

function drawn(layout: Layout, placed: readonly SourceId[], named: boolean): DrawnScene {
  const cameras = named ? placed.filter((source) => source.startsWith('camera')) : [];
  return {
    scene: {
      layout,
      own: null,
      names: named,
      layers: [
        ...placed.map((source) => ({ source, place: { by: 'layout' as const } })),
        ...cameras.map((of) => ({ source: nameLayerOf(of), place: { by: 'layer' as const, of } })),
      ],
    },
    portraits: {},
    overlays: Object.fromEntries(
      cameras.map((of) => [nameLayerOf(of), bitmap(240, 50, 'rgba(0, 0, 0, 0.5)')]),
    ),
    adjustments: {},
    frames: measuresOf(PLAIN_DRESSING),
  };
}

function pixels({ canvas }: { canvas: OffscreenCanvas }): Uint32Array {
  const copy = new OffscreenCanvas(canvas.width, canvas.height);
  const context = copy.getContext('2d', { alpha: false })!;
  context.drawImage(canvas, 0, 0);
  return new Uint32Array(context.getImageData(0, 0, canvas.width, canvas.height).data.buffer);
}

const different = (one: Uint32Array, other: Uint32Array) =>
  one.reduce((count, pixel, i) => count + (pixel === other[i] ? 0 : 1), 0);

describe('the scene', () => {
  let sources: Map<SourceId, Shown>;
  beforeEach(() => {
    sources = new Map(IDS.map((id) => [id, { videoFrame: null, videoFrameNumber: 0 }]));
  });
  let chat: ChatColumn;
  beforeEach(() => {
    chat = new ChatColumn();
  });
  const picture = (of: DrawnScene) =>
    new ScenePicture(
      backdrop(),
      of,
      { get: (source) => sources.get(source), moving: () => undefined, chat },
      PROGRAMME,
    );
  const bring = (id: SourceId, colour: string | null) => {
    const source = sources.get(id)!;
    source.videoFrame?.close();
    source.videoFrame = colour === null ? null : frame(colour);
    source.videoFrameNumber += 1;
  };

  const SECOND = 1000;
  /** All that comes in has come. */
  const atRest = (one: ScenePicture, second: number) => {
    one.draw(second * SECOND);
    one.draw((second + 0.5) * SECOND);
  };

  it('brings a name in from the left, and then leaves it', () => {
    bring(A, '#ff0000');
    const scene = picture(drawn('alone', [A], true));
    const dark = () => [...pixels(scene)].filter((pixel) => pixel === DARK_RED).length;
    const seen = [0, 80, 160, 400, 900].map((atMs) => {
      scene.draw(atMs);
      return dark();
    });
    expect(seen[0]).toBe(0);
    expect(seen.slice(1, 4)).toEqual([...seen.slice(1, 4)].sort((a, b) => a - b));
    expect(seen[1]).toBeGreaterThan(0);
    expect(seen[1]).toBeLessThan(seen[3]!);
    expect(seen[4]).toBe(seen[3]);
    // Another scene in which it stands too does not bring it in anew.
    scene.set(drawn('alone', [A], true));
    scene.draw(901);
    expect(dark()).toBe(seen[4]!);
  });

  describe('under the graphics of a desk', () => {
    const LENGTHS = [900, 700];
    const atMs = Date.UTC(2026, 10, 29, 20);
    const shown = (isOn: boolean): DrawnGraphics => ({
      ...NONE_DRAWN,
      graphics: {
        ...NO_GRAPHICS,
        ticker: { isOn, lines: ['x', 'y'] },
        clock: { isOn, reads: 'countdown', zone: 'UTC', untilMs: atMs + 60_000 },
        score: { isOn, names: ['a', 'b'], points: [1, 2] },
      },
      ticker: {
        lines: LENGTHS.map((length, i) => bitmap(length, 50, i === 0 ? '#00ff00' : '#0000ff')),
        ground: '#ffffff',
        edge: '#ffffff',
      },
      clock: {
        ground: bitmap(152, 46, '#101010'),
        signs: bitmap(11 * 20, 46, '#ffff00'),
        clock: { isOn, reads: 'countdown', zone: 'UTC', untilMs: atMs + 60_000 },
        time: { machineAtMs: 0, atMs: 0, rate: 1 },
      },
      score: bitmap(536, 46, '#ff00ff'),
    });
    const colourAt = (scene: ScenePicture, x: number, y: number) =>
      (pixels(scene)[y * PROGRAMME.width + x]! & 0xffffff).toString(16).padStart(6, '0');
    const band = bandOf(PROGRAMME);
    const inBand = (scene: ScenePicture, x: number) => colourAt(scene, x, band.y + band.height / 2);

    it('runs a ticker from the right, one line after another, and begins anew', () => {
      bring(A, '#ff0000');
      const scene = picture(drawn('alone', [A], false));
      scene.setGraphics(shown(true));
      // 120 pixels a second; blue, green, red as they lie in memory.
      const table: [number, number, string][] = [
        [1, 1200, '00ff00'],
        [1, 1000, 'ffffff'],
        [11, 10, '00ff00'],
        [16, 600, 'ff0000'],
        [24, 0, 'ffffff'],
        [25, 1200, '00ff00'],
      ];
      scene.draw(0);
      for (const [second, x, colour] of table) {
        scene.draw(second * SECOND);
        expect(inBand(scene, x)).withContext(`${second} s at ${x}`).toBe(colour);
      }
    });

    it('shows clock and score board, and nothing of either when they are taken off', () => {
      jasmine.clock().install().mockDate(new Date(atMs));
      try {
        bring(A, '#ff0000');
        const scene = picture(drawn('alone', [A], false));
        scene.setGraphics(shown(true));
        scene.draw(0);
        scene.draw(SECOND);
        // Yellow signs on the clock, in its middle: there is a time to be read.
        expect(colourAt(scene, 1280 - 66 - 76, 60)).toBe('00ffff');
        expect(colourAt(scene, 80, 60)).toBe('ff00ff');
        scene.setGraphics({ ...NONE_DRAWN, graphics: shown(false).graphics });
        scene.draw(2 * SECOND);
        expect([colourAt(scene, 1138, 60), colourAt(scene, 80, 60), inBand(scene, 10)]).toEqual([
          '0000ff',
          '0000ff',
          '0000ff',
        ]);
      } finally {
        jasmine.clock().uninstall();
      }
    });

    it('stacks viewers’ messages from the foot of their column, as many as have room', () => {
      const graphics: Graphics = { ...NO_GRAPHICS, chat: { ...NO_CHAT_BOX, isOn: true, side: 'right' } };
      const scene = picture(drawn('alone', [], false));
      scene.setGraphics({ ...NONE_DRAWN, graphics });
      const column = geometry(withGraphics(EMPTY_SCENE, graphics), PROGRAMME)[0]!.rect;
      const entries = ['#00ff00', '#ff00ff', '#0000ff'].map((colour) => ({
        key: colour,
        image: bitmap(column.width, column.height * 0.4, colour),
      }));
      const seen = () =>
        [0.9, 0.5, 0.1].map((share) =>
          colourAt(scene, column.x + 20, Math.round(column.y + column.height * share)),
        );
      scene.draw(0);
      const empty = seen();
      chat.set(entries, false, SECOND);
      atRest(scene, 1);
      // The newest lowest, the one before it above; the first has no room any more.
      expect(seen()).toEqual(['ff0000', 'ff00ff', empty[2]!]);
      chat.set([], true, 2 * SECOND);
      scene.draw(2 * SECOND);
      expect(seen()).toEqual(empty);
    });

    it('does not bring in anew what stood there, and leaves the images to whoever gave them', () => {
      const scene = picture(drawn('alone', [A], false));
      const graphics = shown(true);
      scene.setGraphics(graphics);
      scene.draw(0);
      scene.draw(5 * SECOND);
      const before = inBand(scene, 700);
      scene.setGraphics(shown(true));
      scene.draw(5 * SECOND);
      expect(inBand(scene, 700)).toBe(before);
      scene.close();
      expect(graphics.score!.width).toBe(536);
    });
  });

  it('looks after any changes as if it were drawn for the first time', () => {
    const at = { layout: 'grid' as Layout, placed: IDS.slice(0, 2), named: true, cardUntilMs: -1 };
    const now = () => drawn(at.layout, at.placed, at.named);
    const scene = picture(now());
    const changes: ((step: number) => void)[] = [
      (step) => bring(IDS[step % 4]!, `hsl(${step * 47}deg 60% 50%)`),
      (step) => bring(IDS[(step * 3) % 4]!, step % 5 === 0 ? null : `hsl(${step * 31}deg 40% 40%)`),
      (step) => {
        at.layout = (['alone', 'inset', 'grid', 'column', 'pair'] as const)[step % 5]!;
        at.placed = IDS.slice(step % 2, 2 + (step % 3));
        at.named = step % 3 !== 0;
        scene.set(now());
      },
      (step) => {
        at.cardUntilMs = step % 2 === 0 ? (step + 3) * SECOND : -1;
        scene.showCard('message', at.cardUntilMs < 0 ? null : { image: card(), untilMs: at.cardUntilMs });
      },
    ];
    for (let step = 1; step <= 80; step++) {
      // Mostly frames; what stands where changes now and then.
      changes[step % 7 === 0 ? 2 : step % 5 === 0 ? 3 : step % 2]!(step);
      const afresh = picture(now());
      if (step * SECOND < at.cardUntilMs)
        afresh.showCard('message', { image: card(), untilMs: at.cardUntilMs });
      for (const one of [scene, afresh]) atRest(one, step);
      expect(different(pixels(scene), pixels(afresh)))
        .withContext(`step ${step}`)
        .toBe(0);
    }
  });

  it('draws a source again only when it brought another picture', () => {
    bring(A, '#ff0000');
    const scene = picture(drawn('alone', [A], false));
    scene.draw(0);
    const before = pixels(scene);
    // Another frame under the old number: whoever looks at the number does not see it.
    sources.get(A)!.videoFrame = frame('#0000ff');
    scene.draw(1);
    expect(different(pixels(scene), before)).toBe(0);
    bring(A, '#00ff00');
    scene.draw(2);
    expect(different(pixels(scene), before)).toBe(PROGRAMME.width * PROGRAMME.height);
  });

  it('shows a screen whole, with the backdrop beside it', () => {
    const screen = IDS[2];
    const tall = new OffscreenCanvas(36, 64);
    tall.getContext('2d', { alpha: false })!.fillRect(0, 0, 36, 64);
    sources.set(screen, { videoFrame: new VideoFrame(tall, { timestamp: 0 }), videoFrameNumber: 1 });
    const scene = picture(drawn('alone', [screen], false));
    scene.draw(0);
    const at = (x: number) => pixels(scene)[360 * PROGRAMME.width + x]!.toString(16);
    expect([at(10), at(640), at(1270)]).toEqual(['ff304020', 'ff000000', 'ff304020']);
  });

  it('shows a source as it is adjusted: framed, mirrored, toned, or not at all', () => {
    // Red on the left, blue on the right.
    const halves = new OffscreenCanvas(160, 90);
    const context = halves.getContext('2d', { alpha: false })!;
    for (const [i, colour] of ['#c80000', '#0000c8'].entries()) {
      context.fillStyle = colour;
      context.fillRect(i * 80, 0, 80, 90);
    }
    sources.set(A, { videoFrame: new VideoFrame(halves, { timestamp: 0 }), videoFrameNumber: 1 });
    const seen = (adjustment: Partial<Adjustment>) => {
      const scene = picture({
        ...drawn('alone', [A], false),
        adjustments: { [A]: { ...AS_IT_COMES, ...adjustment } },
      });
      scene.draw(0);
      return [320, 960].map((x) => {
        const pixel = pixels(scene)[360 * PROGRAMME.width + x]!;
        return [pixel & 0xff, (pixel >> 8) & 0xff, (pixel >> 16) & 0xff];
      });
    };
    const near = (got: number[][], wanted: number[][]) =>
      got.forEach((colour, i) =>
        colour.forEach((value, channel) =>
          expect(Math.abs(value - wanted[i]![channel]!))
            .withContext(JSON.stringify(got))
            .toBeLessThan(6),
        ),
      );
    const [red, blue] = [
      [200, 0, 0],
      [0, 0, 200],
    ];
    near(seen({}), [red, blue]);
    near(seen({ mirror: true }), [blue, red]);
    near(seen({ zoom: 2, panX: -1 }), [red, red]);
    near(seen({ brightness: 0.5 }), [
      [100, 0, 0],
      [0, 0, 100],
    ]);
    near(seen({ warmth: 1 }), [red, [0, 0, 130]]);
    near(seen({ isHidden: true }), [
      [27, 33, 29],
      [27, 33, 29],
    ]);
    const quiet = picture({
      ...drawn('alone', [A], false),
      adjustments: { [A]: { ...AS_IT_COMES, level: 0.5 } },
    });
    expect([quiet.gainOf(A), quiet.gainOf(IDS[1])]).toEqual([0.5, 1]);
  });

  describe('frames people', () => {
    const framed = (frames: Partial<Frames>) =>
      measuresOf({ ...PLAIN_DRESSING, frames: { ...PLAIN_DRESSING.frames, ...frames } });
    const red = [255, 0, 0];
    const ground = [0x20, 0x40, 0x30];
    const seen = (layout: Layout, frames: Partial<Frames>, again = false) => {
      const placed = [A, IDS[1]];
      const scene = picture({ ...drawn(layout, placed, false), frames: framed(frames) });
      bring(A, '#ff0000');
      scene.draw(0);
      if (again) {
        bring(A, '#ff0000');
        scene.draw(40);
      }
      const [first] = geometry(drawn(layout, placed, false).scene, PROGRAMME, framed(frames).space);
      const { x, y } = first!.rect;
      const at = (dx: number, dy: number) =>
        [...scene.canvas.getContext('2d')!.getImageData(x + dx, y + dy, 1, 1).data].slice(0, 3);
      return { corner: at(1, 1), edge: at(200, 1), inside: at(40, 40) };
    };
    const near = (got: number[], wanted: number[]) =>
      expect(got.every((value, i) => Math.abs(value - wanted[i]!) < 12))
        .withContext(got.join())
        .toBeTrue();

    it('with round corners, through which the ground is seen, also when their frames go on', () => {
      for (const again of [false, true]) {
        const { corner, edge, inside } = seen('pair', { corners: 'round' }, again);
        near(corner, ground);
        near(edge, red);
        near(inside, red);
      }
    });

    it('with round corners over a screen, which goes on behind them', () => {
      const [screen, person] = [IDS[2], A];
      const { scene } = drawn('inset', [screen, person], false);
      const of = picture({
        ...drawn('inset', [screen, person], false),
        frames: framed({ corners: 'round' }),
      });
      const inset = geometry(scene, PROGRAMME).at(-1)!.rect;
      const corner = () =>
        [...of.canvas.getContext('2d')!.getImageData(inset.x + 1, inset.y + 1, 1, 1).data].slice(0, 3);
      bring(person, '#ff0000');
      for (const [colour, wanted] of [
        ['#00ff00', [0, 255, 0]],
        ['#0000ff', [0, 0, 255]],
      ] as const) {
        bring(screen, colour);
        of.draw(0);
        bring(person, '#ff0000');
        of.draw(40);
        near(corner(), [...wanted]);
      }
    });

    it('with a line in the colour of the paper', () => {
      const { corner, edge, inside } = seen('pair', { border: 'paper' });
      for (const spot of [corner, edge]) near(spot, [0xf4, 0xef, 0xe4]);
      near(inside, red);
    });

    it('but not whoever fills the picture', () => {
      const { corner, edge } = seen('alone', { corners: 'round', border: 'accent' });
      for (const spot of [corner, edge]) near(spot, red);
    });
  });

  it('shows the initials of whoever’s picture is off, and nothing of them beside it', () => {
    const { scene: pair } = drawn('pair', [A, IDS[1]], false);
    const portraits = { [A]: bitmap(100, 100, 'rgb(0, 200, 0)') };
    const scene = picture({
      scene: pair,
      overlays: {},
      portraits,
      adjustments: { [A]: { ...AS_IT_COMES, isHidden: true } },
      frames: measuresOf(PLAIN_DRESSING),
    });
    scene.draw(0);
    const [first, second] = geometry(pair, PROGRAMME).map(({ rect }) => rect);
    const middle = ({ x, width }: { x: number; width: number }) => Math.round(x + width / 2);
    const at = (x: number, y: number) => [...scene.canvas.getContext('2d')!.getImageData(x, y, 1, 1).data];
    expect(at(middle(first!), 320).slice(0, 3)).toEqual([0, 200, 0]);
    expect(at(first!.x + 20, 320).slice(0, 3)).toEqual([27, 33, 29]);
    expect(at(middle(second!), 320).slice(0, 3)).not.toEqual([0, 200, 0]);
  });

  it('closes the names and messages that stand there no longer', () => {
    const first = drawn('pair', [A, IDS[1]], true);
    const scene = picture(first);
    const message = card();
    scene.showCard('message', { image: message, untilMs: 5 });
    scene.draw(4);
    expect(message.width).toBe(1100);
    scene.draw(5);
    expect(message.width).withContext('closed').toBe(0);
    const [mine, other] = [A, IDS[1]].map((of) => first.overlays[nameLayerOf(of)]!);
    const next = drawn('pair', [A], true);
    scene.set({ ...next, overlays: { [nameLayerOf(A)]: mine! } });
    expect([mine!.width, other!.width]).toEqual([240, 0]);
    expect(placedIn(next.scene)).toEqual([...scene.placed]);
    scene.close();
    expect(mine!.width).toBe(0);
  });
});

describe('a mix', () => {
  const plain = (colour: string) => {
    const canvas = new OffscreenCanvas(4, 2);
    const context = canvas.getContext('2d', { alpha: false })!;
    context.fillStyle = colour;
    context.fillRect(0, 0, 4, 2);
    return canvas;
  };
  const red = (canvas: OffscreenCanvas) => pixels({ canvas })[0]! & 0xff;

  it('goes evenly from what was seen into what comes, and is then out of the way', () => {
    const mix = new Mix({ width: 4, height: 2 });
    const [going, coming] = [plain('#ff0000'), plain('#000000')];
    expect(mix.over(coming, 0)).toBe(coming);
    mix.begin(going, 400, 1000);
    const seen = [1000, 1100, 1200, 1300].map((nowMs) => red(mix.over(coming, nowMs)));
    expect(seen.map((value) => Math.round((value / 255) * 4))).toEqual([4, 3, 2, 1]);
    expect(mix.over(coming, 1400)).toBe(coming);
    expect(mix.over(coming, 1500)).toBe(coming);
  });

  it('begins from what is seen when another is under way', () => {
    const mix = new Mix({ width: 4, height: 2 });
    mix.begin(plain('#ff0000'), 400, 0);
    mix.begin(mix.over(plain('#000000'), 200), 400, 200);
    expect(Math.abs(red(mix.over(plain('#000000'), 200)) - 128)).toBeLessThan(6);
  });
});
