/** Half the programme's, each way. */
const SIZE = { width: 640, height: 360 } as const;

/** The programme made small, once for all who look at it so: the desk's own page, and the guests. */
export class SmallFrame {
  readonly canvas = new OffscreenCanvas(SIZE.width, SIZE.height);
  private readonly context = this.canvas.getContext('2d', { alpha: false })!;

  take(programme: OffscreenCanvas): void {
    this.context.drawImage(programme, 0, 0, SIZE.width, SIZE.height);
  }
}
