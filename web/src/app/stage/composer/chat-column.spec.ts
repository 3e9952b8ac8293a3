import type { DrawnEntry } from '../messages';
import { ChatColumn } from './chat-column';

describe('viewers’ messages in their column', () => {
  const SIZE = 10;
  const RECT = { x: 0, y: 0, width: SIZE, height: 40 };
  let column: ChatColumn;
  let context: OffscreenCanvasRenderingContext2D;
  beforeEach(() => {
    column = new ChatColumn();
    context = new OffscreenCanvas(RECT.width, RECT.height).getContext('2d')!;
  });

  function entry(key: string): DrawnEntry {
    const canvas = new OffscreenCanvas(SIZE, SIZE);
    canvas.getContext('2d')!.fillRect(0, 0, SIZE, SIZE);
    return { key, image: canvas.transferToImageBitmap() };
  }
  /** How much is seen, 0 to 1, from the lowest place upwards. */
  function seen(nowMs: number, places = 3): number[] {
    context.clearRect(0, 0, RECT.width, RECT.height);
    column.paint(context, RECT, 0, nowMs);
    return Array.from({ length: places }, (_, i) => {
      const { data } = context.getImageData(5, RECT.height - SIZE * (i + 0.5), 1, 1);
      return Math.round((data[3]! / 255) * 10) / 10;
    });
  }

  it('come gently and stay, and are not brought in anew when others come', () => {
    column.set([entry('a')], false, 0);
    expect([seen(0), seen(125), seen(250)]).toEqual([
      [0, 0, 0],
      [0.5, 0, 0],
      [1, 0, 0],
    ]);
    column.set([entry('a'), entry('b')], false, 1000);
    expect(seen(1000)).toEqual([0, 1, 0]);
    expect(seen(1250)).toEqual([1, 1, 0]);
  });

  it('go gently when their time is over, and leave their place', () => {
    column.set([entry('a'), entry('b')], false, 0);
    seen(0);
    column.set([entry('b')], false, 1000);
    expect(seen(1250)).toEqual([1, 0.5, 0]);
    column.tidy(1499);
    expect(seen(1400)[1]).toBeGreaterThan(0);
    column.tidy(1500);
    expect(seen(1500)).toEqual([1, 0, 0]);
  });

  it('are gone at once when somebody hides one', () => {
    column.set([entry('a'), entry('b')], false, 0);
    seen(0);
    column.set([entry('a')], true, 1000);
    expect(seen(1000)).toEqual([1, 0, 0]);
    // Even one that is on its way out already.
    column.set([], false, 2000);
    column.set([], true, 2100);
    expect(seen(2100)).toEqual([0, 0, 0]);
  });

  it('come back when they are let through again while they leave', () => {
    column.set([entry('a')], false, 0);
    seen(0);
    column.set([], false, 1000);
    column.set([entry('a')], false, 1100);
    expect(seen(1100)).toEqual([0, 0, 0]);
    expect(seen(1350)).toEqual([1, 0, 0]);
  });

  it('are another number only while they look otherwise', () => {
    column.set([entry('a')], false, 0);
    seen(0);
    expect(column.numberAt(100)).not.toBe(column.numberAt(150));
    expect(column.numberAt(300)).toBe(column.numberAt(5000));
    const before = column.numberAt(5000);
    column.set([entry('a')], false, 5000);
    expect(column.numberAt(5000)).withContext('drawn anew, perhaps in another colour').not.toBe(before);
  });

  it('let go of what was drawn of them', () => {
    const [a, b, c] = [entry('a'), entry('b'), entry('a')];
    column.set([a, b], false, 0);
    seen(0);
    column.set([c], false, 1000);
    expect([a.image.width, b.image.width]).toEqual([0, SIZE]);
    column.tidy(1500);
    expect(b.image.width).toBe(0);
    column.close();
    expect(c.image.width).toBe(0);
  });
});
