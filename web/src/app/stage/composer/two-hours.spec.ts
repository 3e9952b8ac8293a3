import { PLAIN_DRESSING, type Dressing } from '@juncta/core/dressing';
import {
  changeGraphics,
  changeScene,
  EMPTY_SCENE,
  NO_GRAPHICS,
  PROGRAMME,
  sourceId,
  type Graphics,
  type Layout,
  type Scene,
} from '@juncta/core/stage';
import { drawChatEntries } from '../dressed/drawn-chat-box';
import { drawGraphics } from '../dressed/drawn-graphics';
import { drawMessageCard, drawNoticeCard, drawScene } from '../dressed/drawn-scene';
import { drawBackdrop, drawSlate } from '../dressed/grounds';
import type { DrawnGraphics } from '../messages';
import { Composer } from './composer';

const PEOPLE = ['a', 'b'].map((id) => ({ id, name: `Somebody ${id}`, about: 'Measured' }));
const CAMERAS = PEOPLE.map(({ id }) => sourceId('camera', id));
const LAYOUTS: readonly Layout[] = ['pair', 'grid', 'beside'];
/** Something is changed every 40 s of two hours; between two changes one second passes, which is enough to come and go. */
const [STEP_MS, STEPS] = [1000, 180];
/** After so many steps everything is as it was so many steps before. */
const ROUND = 30;

/** An encoder that takes everything and gives nothing. */
class NoEncoder {
  state = 'configured';
  readonly encodeQueueSize = 0;
  configure(): void {
    this.state = 'configured';
  }
  encode(): void {
    // What is encoded is nobody's here.
  }
  flush(): Promise<void> {
    return Promise.resolve();
  }
  close(): void {
    this.state = 'closed';
  }
}

describe('the changes of two hours of a programme', () => {
  const open = new Set<object>();
  const kept = {
    VideoEncoder: window.VideoEncoder,
    AudioEncoder: window.AudioEncoder,
    VideoFrame: window.VideoFrame,
    transfer: OffscreenCanvas.prototype.transferToImageBitmap,
    closeBitmap: ImageBitmap.prototype.close,
    closeFrame: VideoFrame.prototype.close,
  };
  let nowMs = 0;

  beforeEach(() => {
    open.clear();
    nowMs = 0;
    Object.assign(window, { VideoEncoder: NoEncoder, AudioEncoder: NoEncoder });
    window.VideoFrame = new Proxy(kept.VideoFrame, {
      construct(Frame, args: ConstructorParameters<typeof VideoFrame>) {
        const frame = new Frame(...args);
        open.add(frame);
        return frame;
      },
    });
    OffscreenCanvas.prototype.transferToImageBitmap = function () {
      const image = kept.transfer.call(this);
      open.add(image);
      return image;
    };
    ImageBitmap.prototype.close = function () {
      open.delete(this);
      kept.closeBitmap.call(this);
    };
    kept.VideoFrame.prototype.close = function () {
      open.delete(this);
      kept.closeFrame.call(this);
    };
    jasmine.clock().install();
    spyOn(performance, 'now').and.callFake(() => nowMs);
  });
  afterEach(() => {
    jasmine.clock().uninstall();
    const { transfer, closeBitmap, closeFrame, ...classes } = kept;
    Object.assign(window, classes);
    OffscreenCanvas.prototype.transferToImageBitmap = transfer;
    ImageBitmap.prototype.close = closeBitmap;
    VideoFrame.prototype.close = closeFrame;
  });

  /** What waits in streams and promises has its turn. */
  async function settled(): Promise<void> {
    for (let i = 0; i < 4; i++)
      await new Promise<void>((done) => {
        const { port1, port2 } = new MessageChannel();
        port1.onmessage = () => {
          port1.close();
          done();
        };
        port2.postMessage(null);
      });
  }

  it('leave no picture behind: as many are held at the end as in the first minutes', async () => {
    const dressing: Dressing = { ...PLAIN_DRESSING, backdrop: 'drift' };
    const look = { dressing, size: PROGRAMME };
    const sceneOf = (count: number, layout: Layout): Scene =>
      CAMERAS.slice(0, count).reduce<Scene>(
        (scene, source) => changeScene(scene, { type: 'bring_on', source }) as Scene,
        { ...EMPTY_SCENE, layout },
      );
    const drawn = (count: number, layout: Layout) => drawScene(sceneOf(count, layout), PEOPLE, {}, look);
    const still = () => {
      const canvas = new OffscreenCanvas(64, 36);
      canvas.getContext('2d')!.fillRect(0, 0, 64, 36);
      return canvas;
    };
    const time = { machineAtMs: 0, atMs: 0, rate: 1 };
    const graphicsOf = (graphics: Graphics, hasOverlay: boolean): DrawnGraphics => {
      const all = drawGraphics(graphics, look, time);
      const place = { x: 0.1, y: 0.1, width: 0.2, height: 0.2 };
      const overlay = { id: 'o', place, opacity: 0.5, still: still().transferToImageBitmap(), moving: null };
      if (!hasOverlay) overlay.still.close();
      return { ...all, overlays: hasOverlay ? [overlay] : [] };
    };

    const composer = new Composer(
      {
        type: 'start',
        uplink: new MessageChannel().port1,
        backdrop: drawBackdrop(dressing, PROGRAMME),
        slate: drawSlate(dressing, 'before', { title: '', begins: '' }, PROGRAMME),
        setting: { programme: drawn(2, 'pair'), armed: null, takes: 0, mixMs: 0 },
        encoding: { format: '720p30', profile: '4200', hardwareAcceleration: 'no-preference' },
        videoKbps: 4000,
      },
      () => undefined,
    );
    const feeds = CAMERAS.map((id) => {
      let give: (frame: VideoFrame) => void = () => undefined;
      const video = new ReadableStream<VideoFrame>({
        start: (controller) => {
          give = (frame) => controller.enqueue(frame);
        },
      });
      composer.take({ type: 'device_source', id, fromRoom: false, video, audio: null });
      return give;
    });
    await settled();

    let graphics = changeGraphics(NO_GRAPHICS, {
      type: 'ticker',
      values: { isOn: true, lines: ['Rye', 'Spelt'] },
    });
    graphics = changeGraphics(graphics, { type: 'chat', values: { isOn: true } });
    graphics = changeGraphics(graphics, { type: 'score', values: { isOn: true, names: ['a', 'b'] } });
    const held: number[] = [];
    for (let step = 0; step < STEPS; step++) {
      const round = step % ROUND;
      for (const give of feeds) give(new VideoFrame(still(), { timestamp: step }));
      await settled();
      if (round % 3 === 0) {
        const layout = LAYOUTS[(round / 3) % LAYOUTS.length]!;
        const armed = round % 2 === 0 ? drawn(1, 'alone') : null;
        composer.take({
          type: 'setting',
          setting: { programme: drawn(2, layout), armed, takes: step, mixMs: 400 },
        });
      }
      if (round % 4 === 1)
        composer.take({ type: 'graphics', graphics: graphicsOf(graphics, round % 8 === 1) });
      const lines = Array.from({ length: 4 }, (_, i) => ({
        author: `Viewer ${step + i}`,
        place: 'There',
        text: 'Rye?',
      }));
      const entries = drawChatEntries(lines, graphics.chat, look);
      composer.take({ type: 'chat_entries', entries, isCut: round % 5 === 0 });
      if (round % 7 === 0) {
        const image = drawMessageCard('Somebody', 'There', 'Does it rest?', look);
        composer.take({ type: 'card', of: 'message', card: { image, forMs: 3000 } });
      }
      if (round % 11 === 0) {
        const card = round % 2 ? { image: drawNoticeCard('Somebody', '', look), forMs: Infinity } : null;
        composer.take({ type: 'card', of: 'notice', card });
      }
      if (round === 20) composer.take({ type: 'backdrop', backdrop: drawBackdrop(dressing, PROGRAMME) });
      nowMs += STEP_MS;
      // One that is late, and it makes the frame that is due; the machine's clock stands meanwhile.
      jasmine.clock().tick(40);
      if (round === ROUND - 1) held.push(open.size);
    }
    // The first round begins with less than it ends with.
    const [, second, ...later] = held;
    expect(later.length).toBe(STEPS / ROUND - 2);
    expect(second).toBeGreaterThan(5);
    expect(later.filter((count) => count !== second)).toEqual([]);
    composer.stop();
  }, 180_000);
});
