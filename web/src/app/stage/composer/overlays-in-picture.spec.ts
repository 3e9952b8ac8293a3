import { measuresOf, PLAIN_DRESSING } from '@juncta/core/dressing';
import {
  EMPTY_SCENE,
  NO_GRAPHICS,
  PROGRAMME,
  sourceId,
  type Layout,
  type Scene,
  type SourceId,
} from '@juncta/core/stage';
import {
  NONE_DRAWN,
  type DrawnBackdrop,
  type DrawnGraphics,
  type DrawnOverlay,
  type DrawnScene,
} from '../messages';
import { bitmap, frame } from '../../testing/pictures';
import { ChatColumn } from './chat-column';
import type { SeenImage } from './moving-images';
import { ScenePicture, type SeenSource } from './scene-picture';

describe('over and behind the pictures', () => {
  const CAMERAS = ['a', 'b'].map((id) => sourceId('camera', id));
  let sources: Map<SourceId, { videoFrame: VideoFrame | null; videoFrameNumber: number }>;
  let moved: SeenImage | undefined;
  beforeEach(() => {
    sources = new Map();
    moved = undefined;
  });
  afterEach(() => sources.forEach(({ videoFrame }) => videoFrame?.close()));

  const bring = (id: SourceId, colour: string) => {
    const before = sources.get(id);
    before?.videoFrame?.close();
    sources.set(id, { videoFrame: frame(colour), videoFrameNumber: (before?.videoFrameNumber ?? 0) + 1 });
  };
  const STANDS: DrawnBackdrop = { image: bitmap(1280, 720, '#204030'), passes: 0 };
  const drawn = (placed: readonly SourceId[], layout: Layout = 'grid', isRound = false): DrawnScene => {
    const layers: Scene['layers'] = placed.map((source) => ({ source, place: { by: 'layout' } }));
    const frames = { ...PLAIN_DRESSING.frames, corners: isRound ? ('round' as const) : ('square' as const) };
    return {
      scene: { ...EMPTY_SCENE, layout, layers },
      portraits: {},
      overlays: {},
      adjustments: {},
      frames: measuresOf({ ...PLAIN_DRESSING, frames }),
    };
  };
  const picture = (scene: DrawnScene, backdrop = STANDS) =>
    new ScenePicture(
      backdrop,
      scene,
      {
        get: (id): SeenSource | undefined => sources.get(id),
        moving: () => moved,
        chat: new ChatColumn(),
      },
      PROGRAMME,
    );
  const with_ = (...overlays: DrawnOverlay[]): DrawnGraphics => ({
    ...NONE_DRAWN,
    graphics: NO_GRAPHICS,
    overlays,
  });
  const overlay = (values: Partial<DrawnOverlay> = {}): DrawnOverlay => ({
    id: 'frame',
    place: { x: 0.25, y: 0.25, width: 0.5, height: 0.5 },
    opacity: 1,
    still: bitmap(640, 360, '#0000ff'),
    moving: null,
    ...values,
  });
  function pixels({ canvas }: ScenePicture): Uint8ClampedArray {
    const context = new OffscreenCanvas(1280, 720).getContext('2d')!;
    context.drawImage(canvas, 0, 0);
    return context.getImageData(0, 0, 1280, 720).data;
  }
  const at = (of: ScenePicture, x: number, y: number) => [
    ...pixels(of)
      .subarray(4 * (y * 1280 + x))
      .subarray(0, 3),
  ];

  it('an overlay appears where it stands, as much seen through as is wanted', () => {
    bring(CAMERAS[0]!, '#ff0000');
    const scene = picture(drawn(CAMERAS.slice(0, 1), 'alone'));
    scene.draw(0);
    scene.setGraphics(with_(overlay({ opacity: 0.5 })));
    scene.draw(1000);
    expect(at(scene, 640, 360))
      .withContext('it begins')
      .toEqual([255, 0, 0]);
    scene.draw(2000);
    const [red, , blue] = at(scene, 640, 360);
    expect(Math.abs(red! - 128)).toBeLessThan(3);
    expect(Math.abs(blue! - 128)).toBeLessThan(3);
    expect(at(scene, 100, 100))
      .withContext('beside it')
      .toEqual([255, 0, 0]);
    scene.setGraphics(with_());
    scene.draw(2100);
    expect(at(scene, 640, 360)).toEqual([255, 0, 0]);
  });

  it('one that moves shows what it is at, over pictures that move too', () => {
    const move = (colour: string) => {
      moved = { image: bitmap(64, 36, colour), number: (moved?.number ?? 0) + 1 };
    };
    bring(CAMERAS[0]!, '#ff0000');
    move('#00ff00');
    const scene = picture(drawn(CAMERAS.slice(0, 1), 'alone'));
    const file = new Blob();
    scene.setGraphics(with_(overlay({ still: null, moving: { imageId: 'x', file, repeats: true } })));
    scene.draw(0);
    scene.draw(1000);
    expect(at(scene, 640, 360)).toEqual([0, 255, 0]);
    move('#ffffff');
    scene.draw(1033);
    expect(at(scene, 640, 360)).toEqual([255, 255, 255]);
    bring(CAMERAS[0]!, '#0000ff');
    scene.draw(1066);
    expect([at(scene, 640, 360), at(scene, 10, 10)]).toEqual([
      [255, 255, 255],
      [0, 0, 255],
    ]);
  });

  it('a notice stands where a message does, and gives way to one', () => {
    const scene = picture(drawn([]));
    scene.showCard('notice', { image: bitmap(1100, 144, '#ff00ff'), untilMs: 9000 });
    scene.draw(0);
    scene.draw(1000);
    expect(at(scene, 640, 600)).toEqual([255, 0, 255]);
    scene.showCard('message', { image: bitmap(1100, 144, '#00ffff'), untilMs: 5000 });
    scene.draw(1001);
    scene.draw(2000);
    expect(at(scene, 640, 600)).toEqual([0, 255, 255]);
    scene.draw(5000);
    scene.draw(6000);
    expect(at(scene, 640, 600)).toEqual([255, 0, 255]);
    scene.draw(9000);
    expect(at(scene, 640, 600)).toEqual([32, 64, 48]);
  });

  for (const isRound of [false, true])
    it(`a backdrop that passes is seen wherever nobody stands, ${isRound ? 'beside round corners too' : 'and no further'}`, () => {
      const context = new OffscreenCanvas(1, 1).getContext('2d')!;
      const shade = context.createLinearGradient(0, 0, 2560, 0);
      shade.addColorStop(0, '#000000');
      shade.addColorStop(1, '#00ff00');
      const passing = () => ({ image: bitmap(2560, 720, shade), passes: 0.1 });
      CAMERAS.forEach((id) => bring(id, '#ff0000'));
      const scene = picture(drawn(CAMERAS, 'pair', isRound), passing());
      for (let step = 0; step <= 40; step++) {
        bring(CAMERAS[step % 2]!, step % 3 ? '#ff0000' : '#0000ff');
        bring(CAMERAS[(step + 1) % 2]!, step % 3 ? '#ff0000' : '#0000ff');
        scene.draw(step * 250);
      }
      const afresh = picture(drawn(CAMERAS, 'pair', isRound), passing());
      afresh.draw(40 * 250);
      const [one, other] = [pixels(scene), pixels(afresh)];
      expect(one.every((value, i) => Math.abs(value - other[i]!) <= 2)).toBeTrue();
      expect(at(scene, 2, 2)[1])
        .withContext('it has passed')
        .toBeGreaterThan(100);
    });
});
