import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { OverlayView } from '@juncta/contract/chat';
import { PLAIN_DRESSING } from '@juncta/core/dressing';
import { USUAL_OVERLAY_BOX, type BoxLine, type OverlayBox } from '@juncta/core/stage';
import { drawOverlay } from './draw-overlay';
import { OverlayPage } from './overlay.page';

const line = (text: string): BoxLine => ({ author: 'Ottoline', place: 'Kitefield', text });

describe('an overlay page', () => {
  const view = (
    lines: readonly BoxLine[],
    values: Partial<OverlayBox> = {},
    card: BoxLine | null = null,
  ) => ({
    dressing: PLAIN_DRESSING,
    box: { ...USUAL_OVERLAY_BOX, ground: 'paper' as const, ...values },
    lines,
    card,
  });
  type Seen = Omit<OverlayView, 'number'>;

  function drawn(seen: Seen, width: number, height: number): HTMLCanvasElement {
    const canvas = document.createElement('canvas');
    Object.assign(canvas, { width, height });
    drawOverlay(canvas, seen);
    return canvas;
  }
  /** Where anything is, as shares of the canvas; null: nowhere. */
  function box(canvas: HTMLCanvasElement) {
    const { width, height } = canvas;
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
    const [xs, ys]: [number[], number[]] = [[], []];
    for (let at = 0; at < width * height; at += 1) {
      if (data[at * 4 + 3] === 0) continue;
      xs.push(at % width);
      ys.push(Math.floor(at / width));
    }
    if (xs.length === 0) return null;
    const span = (all: number[], of: number) =>
      [all.reduce((a, b) => Math.min(a, b)) / of, (all.reduce((a, b) => Math.max(a, b)) + 1) / of] as const;
    return { x: span(xs, width), y: span(ys, height) };
  }

  it('covers nothing but where a message stands, at the side that was chosen', () => {
    expect(box(drawn(view([]), 640, 360))).toBeNull();
    const right = box(drawn(view([line('How warm is the oven?')]), 640, 360))!;
    expect(right.x[0]).toBeGreaterThan(0.7);
    expect(right.x[1]).toBeLessThan(1);
    expect(right.y[1]).toBeGreaterThan(0.9);
    const left = box(drawn(view([line('How warm is the oven?')], { side: 'left' }), 640, 360))!;
    expect(left.x[1]).toBeLessThan(0.3);
  });

  it('stacks messages above the one on the programme', () => {
    const alone = box(drawn(view([line('Rye?')]), 640, 360))!;
    const carded = drawn(view([line('Rye?')], {}, line('Shown to all')), 640, 360);
    const both = box(carded)!;
    expect(both.x[0]).toBeLessThan(0.2);
    expect(both.y[0]).toBeLessThan(alone.y[0]);
  });

  it('fills a narrow window, whose letters go by its width', () => {
    const narrow = box(drawn(view([line('Rye?')]), 300, 600))!;
    expect(narrow.x[0]).toBeLessThan(0.06);
    expect(narrow.x[1]).toBeGreaterThan(0.94);
    const carded = box(drawn(view([line('Rye?')], {}, line('Shown')), 300, 600))!;
    expect(carded.y[0]).toBeLessThan(narrow.y[0]);
    expect(carded.y[1]).toBeGreaterThan(0.9);
  });

  it('lets what is behind it through, and no longer once it is left', () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(OverlayPage);
    const { classList } = document.documentElement;
    expect(classList).toContain('see-through');
    fixture.destroy();
    expect(classList).not.toContain('see-through');
  });
});
