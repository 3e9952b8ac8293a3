import type { Size } from '@juncta/core/stage';

/**
 * From one picture into the next. What goes stands still meanwhile: both moving would be drawn twice, and a computer that
 * keeps up with one may not with two.
 */
export class Mix {
  private readonly going: OffscreenCanvas;
  private readonly both: OffscreenCanvas;
  private from: { readonly sinceMs: number; readonly lengthMs: number } | null = null;

  constructor({ width, height }: Size) {
    this.going = new OffscreenCanvas(width, height);
    this.both = new OffscreenCanvas(width, height);
  }

  /** @param seen what viewers see at the moment, which may be a mix that has not ended */
  begin(seen: OffscreenCanvas, lengthMs: number, nowMs: number): void {
    contextOf(this.going).drawImage(seen, 0, 0);
    this.from = { sinceMs: nowMs, lengthMs };
  }

  /** What is to be seen now while this picture comes: the picture itself when nothing goes. */
  over(coming: OffscreenCanvas, nowMs: number): OffscreenCanvas {
    if (!this.from) return coming;
    const done = (nowMs - this.from.sinceMs) / this.from.lengthMs;
    if (done >= 1) {
      this.from = null;
      return coming;
    }
    const context = contextOf(this.both);
    context.drawImage(coming, 0, 0);
    context.globalAlpha = 1 - Math.max(0, done);
    context.drawImage(this.going, 0, 0);
    context.globalAlpha = 1;
    return this.both;
  }
}

const contextOf = (canvas: OffscreenCanvas) => canvas.getContext('2d', { alpha: false })!;
