import type { Size } from '@juncta/core/stage';
import type { DrawnBackdrop, DrawnGraphics, DrawnScene } from '../messages';
import { ScenePicture, type Live } from './scene-picture';

/** Small: it is looked at on the page alone. */
const SIZE: Size = { width: 480, height: 270 };

/** What is put together to come next, with the pictures as they move. */
export class ArmedPreview {
  private picture: ScenePicture | null = null;
  private page: OffscreenCanvasRenderingContext2D | null = null;
  private graphics: DrawnGraphics | null = null;

  constructor(
    private backdrop: DrawnBackdrop,
    armed: DrawnScene | null,
    private readonly live: Live,
  ) {
    this.set(armed);
  }

  set(armed: DrawnScene | null): void {
    if (armed && this.picture) this.picture.set(armed);
    else {
      this.picture?.close();
      this.picture = armed && new ScenePicture(this.backdrop, armed, this.live, SIZE);
      this.picture?.setGraphics(this.graphics);
    }
  }

  setBackdrop(backdrop: DrawnBackdrop): void {
    this.backdrop = backdrop;
    this.picture?.setBackdrop(backdrop);
  }

  setGraphics(graphics: DrawnGraphics): void {
    this.graphics = graphics;
    this.picture?.setGraphics(graphics);
  }

  showOn(page: OffscreenCanvasRenderingContext2D): void {
    this.page = page;
  }

  draw(nowMs: number): void {
    if (!this.picture || !this.page) return;
    this.picture.draw(nowMs);
    this.page.drawImage(this.picture.canvas, 0, 0, this.page.canvas.width, this.page.canvas.height);
  }
}
