import { PROGRAMME } from '@juncta/core/stage';
import type { Setting } from '../messages';
import { Scene } from './scene';

interface Shown {
  videoFrame: VideoFrame | null;
  videoFrameNumber: number;
}

const IDS = ['a', 'b', 'c', 'd'];

/** A bitmap of one colour, a little of it see-through if wanted, as the cards' edges are. */
function bitmap(width: number, height: number, colour: string): ImageBitmap {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  context.fillStyle = colour;
  context.fillRect(0, 0, width, height);
  return canvas.transferToImageBitmap();
}

const backdrop = () => bitmap(PROGRAMME.width, PROGRAMME.height, '#204030');
const card = () => bitmap(1100, 144, 'rgba(250, 240, 200, 0.6)');

function frame(colour: string): VideoFrame {
  const canvas = new OffscreenCanvas(64, 36);
  const context = canvas.getContext('2d', { alpha: false })!;
  context.fillStyle = colour;
  context.fillRect(0, 0, 64, 36);
  return new VideoFrame(canvas, { timestamp: 0 });
}

const setting = (layout: Setting['layout'], stage: readonly string[], named: boolean): Setting => ({
  layout,
  stage,
  plates: named ? Object.fromEntries(stage.map((id) => [id, bitmap(240, 50, 'rgba(0, 0, 0, 0.5)')])) : {},
});

function pixels({ canvas }: Scene): Uint32Array {
  const copy = new OffscreenCanvas(canvas.width, canvas.height);
  const context = copy.getContext('2d', { alpha: false })!;
  context.drawImage(canvas, 0, 0);
  return new Uint32Array(context.getImageData(0, 0, canvas.width, canvas.height).data.buffer);
}

const different = (one: Uint32Array, other: Uint32Array) =>
  one.reduce((count, pixel, i) => count + (pixel === other[i] ? 0 : 1), 0);

describe('the scene', () => {
  let sources: Map<string, Shown>;
  beforeEach(() => {
    sources = new Map(IDS.map((id) => [id, { videoFrame: null, videoFrameNumber: 0 }]));
  });
  const bring = (id: string, colour: string | null) => {
    const source = sources.get(id)!;
    source.videoFrame?.close();
    source.videoFrame = colour === null ? null : frame(colour);
    source.videoFrameNumber += 1;
  };

  it('looks after any changes as if it were drawn for the first time', () => {
    const at = { layout: 'grid' as Setting['layout'], stage: IDS.slice(0, 2), named: true, cardUntilMs: -1 };
    const scene = new Scene(backdrop(), setting(at.layout, at.stage, at.named), sources);
    const changes: ((step: number) => void)[] = [
      (step) => bring(IDS[step % 4]!, `hsl(${step * 47}deg 60% 50%)`),
      (step) => bring(IDS[(step * 3) % 4]!, step % 5 === 0 ? null : `hsl(${step * 31}deg 40% 40%)`),
      (step) => {
        at.layout = (['single', 'pair', 'grid'] as const)[step % 3]!;
        at.stage = IDS.slice(step % 2, 1 + (step % 4));
        at.named = step % 3 !== 0;
        scene.set(setting(at.layout, at.stage, at.named));
      },
      (step) => {
        at.cardUntilMs = step % 2 === 0 ? step + 3 : -1;
        scene.show(at.cardUntilMs < 0 ? null : { image: card(), untilMs: at.cardUntilMs });
      },
    ];
    for (let step = 1; step <= 40; step++) {
      // Mostly frames; what stands where changes now and then.
      changes[step % 7 === 0 ? 2 : step % 5 === 0 ? 3 : step % 2]!(step);
      scene.draw(step);
      const afresh = new Scene(backdrop(), setting(at.layout, at.stage, at.named), sources);
      if (step < at.cardUntilMs) afresh.show({ image: card(), untilMs: at.cardUntilMs });
      afresh.draw(step);
      expect(different(pixels(scene), pixels(afresh)))
        .withContext(`step ${step}`)
        .toBe(0);
    }
  });

  it('draws a source again only when it brought another picture', () => {
    bring('a', '#ff0000');
    const scene = new Scene(backdrop(), setting('single', ['a'], false), sources);
    scene.draw(0);
    const before = pixels(scene);
    // Another frame under the old number: whoever looks at the number does not see it.
    sources.get('a')!.videoFrame = frame('#0000ff');
    scene.draw(1);
    expect(different(pixels(scene), before)).toBe(0);
    bring('a', '#00ff00');
    scene.draw(2);
    expect(different(pixels(scene), before)).toBe(PROGRAMME.width * PROGRAMME.height);
  });

  it('closes the names and messages that stand there no longer', () => {
    const first = setting('pair', ['a', 'b'], true);
    const scene = new Scene(backdrop(), first, sources);
    const message = card();
    scene.show({ image: message, untilMs: 5 });
    scene.draw(4);
    expect(message.width).toBe(1100);
    scene.draw(5);
    expect(message.width).withContext('closed').toBe(0);
    scene.set({ ...first, stage: ['a'], plates: { a: first.plates['a']! } });
    expect([first.plates['a']!.width, first.plates['b']!.width]).toEqual([240, 0]);
  });
});
