import { ownLayerOf } from '@juncta/core/stage';
import type { DrawnOverlay } from '../messages';
import { MovingImages } from './moving-images';

/** Half-transparent red, green, blue: 16x9, each for 100 ms. */
const FILE =
  'UklGRrQAAABXRUJQVlA4WAoAAAASAAAADwAACAAAQU5JTQYAAAD/////AABBTk1GKAAAAAAAAAAAAA8AAAgAAGQAAAJWUDhMDwAAAC8PAAIQBxD9jwIGIqL/AQBBTk1GKAAAAAAAAAAAAA8AAAgAAGQAAABWUDhMDwAAAC8PAAIAB9D/iP4HIqL/AQBBTk1GKAAAAAAAAAAAAA8AAAgAAGQAAABWUDhMDwAAAC8PAAIABxDR//4HIqL/AQA=';

describe('overlays that move', () => {
  let images: MovingImages;
  beforeEach(() => {
    images = new MovingImages();
  });
  afterEach(() => images.close());

  const overlay = (values: Partial<NonNullable<DrawnOverlay['moving']>> = {}): DrawnOverlay => {
    const bytes = Uint8Array.from(atob(FILE), (sign) => sign.charCodeAt(0));
    const file = new Blob([bytes], { type: 'image/webp' });
    return {
      id: 'a',
      place: { x: 0, y: 0, width: 1, height: 1 },
      opacity: 1,
      still: null,
      moving: { imageId: 'one', file, repeats: false, ...values },
    };
  };
  const now = () => images.get(ownLayerOf('a'));
  /** Red, green, blue and what is seen of it; null: nothing is there. */
  function colour(): number[] | null {
    const image = now()?.image;
    if (!image) return null;
    const context = new OffscreenCanvas(16, 9).getContext('2d')!;
    context.drawImage(image, 0, 0);
    return [...context.getImageData(8, 4, 1, 1).data];
  }
  /** Asks until a frame is decoded and seen. */
  async function until(nowMs: number, number: number): Promise<void> {
    for (let tries = 0; tries < 500; tries++) {
      images.advance(nowMs);
      if (now()!.number === number) return;
      await new Promise((done) => setTimeout(done, 5));
    }
    fail(`frame ${number} did not come`);
  }

  it('show one frame after another, each for its time, with what is seen through them', async () => {
    images.follow([overlay()]);
    expect(colour()).toBeNull();
    await until(0, 1);
    expect(colour()![0]).toBeGreaterThan(250);
    expect(colour()![3]).toBe(128);
    images.advance(99);
    expect(now()!.number).toBe(1);
    await until(100, 2);
    expect(colour()).toEqual([0, 255, 0, 255]);
    await until(200, 3);
    expect(colour()).toEqual([0, 0, 255, 255]);
  });

  it('stay as they ended, or begin anew', async () => {
    images.follow([overlay()]);
    for (const [nowMs, number] of [
      [0, 1],
      [100, 2],
      [200, 3],
    ] as const)
      await until(nowMs, number);
    for (let i = 0; i < 10; i++) {
      images.advance(300 + i * 100);
      await new Promise((done) => setTimeout(done, 5));
    }
    expect(now()!.number).toBe(3);
    // Repeated from now on, it goes on where it is.
    images.follow([overlay({ repeats: true })]);
    await until(2000, 4);
    expect(colour()![3]).toBe(128);
  });

  it('go when they are taken off, and begin anew with another picture', async () => {
    images.follow([overlay()]);
    await until(0, 1);
    images.follow([overlay({ imageId: 'other' })]);
    expect(colour()).toBeNull();
    await until(0, 1);
    images.follow([]);
    expect(now()).toBeUndefined();
  });

  it('are not seen when they are damaged, and harm nobody', async () => {
    images.follow([overlay({ file: new Blob(['nothing'], { type: 'image/webp' }) })]);
    for (let i = 0; i < 20; i++) {
      images.advance(i * 100);
      await new Promise((done) => setTimeout(done, 5));
    }
    expect(colour()).toBeNull();
  });
});
