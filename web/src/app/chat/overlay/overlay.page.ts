import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  inject,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import type { OverlayView } from '@juncta/contract/chat';
import { DOCUMENT } from '@angular/common';
import { loadFaces } from '../../stage/dressed/paper';
import { drawOverlay } from './draw-overlay';
import { OverlayLink } from './overlay-link';

/**
 * Viewers' messages and nothing behind them, as large as the window: an outside encoder lays it over its picture. It says nothing
 * of itself, whatever is wrong: viewers would read it. Its owner is told on the page where it is set up.
 */
@Component({
  selector: 'jn-overlay-page',
  template: `
    <canvas #canvas aria-hidden="true"></canvas>
    <main class="visually-hidden">
      <div role="log">
        @for (line of view()?.lines; track $index) {
          <p>{{ line.author }}, {{ line.place }}: {{ line.text }}</p>
        }
      </div>
      @if (view()?.card; as card) {
        <p>{{ card.author }}, {{ card.place }}: {{ card.text }}</p>
      }
    </main>
  `,
  styles: `
    canvas {
      position: fixed;
      inset: 0;
      width: 100vw;
      height: 100vh;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(window:resize)': 'draw()' },
})
export class OverlayPage {
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly view = signal<OverlayView | null>(null);
  private readonly link: OverlayLink | null;

  constructor() {
    const { classList } = inject(DOCUMENT).documentElement;
    classList.add('see-through');
    // It stays in the address: an encoder loads the page again by itself.
    const token = location.hash.slice(1);
    this.link = token
      ? new OverlayLink(token, { show: (view) => void this.show(view), clear: () => this.clear() })
      : null;
    inject(DestroyRef).onDestroy(() => {
      classList.remove('see-through');
      this.link?.close();
    });
  }

  private wanted: OverlayView | null = null;

  private async show(view: OverlayView): Promise<void> {
    this.wanted = view;
    await loadFaces(view.dressing, ({ id }) => this.link!.face(id).catch(() => null));
    // Another came meanwhile, or none is to be seen any more.
    if (this.wanted !== view) return;
    this.view.set(view);
    this.draw();
    // The frame that shows it.
    requestAnimationFrame(() => requestAnimationFrame(() => this.link!.shown(view)));
  }

  private clear(): void {
    this.wanted = null;
    this.view.set(null);
    this.draw();
  }

  protected draw(): void {
    const canvas = this.canvas().nativeElement;
    const view = this.view();
    canvas.width = Math.round(innerWidth * devicePixelRatio);
    canvas.height = Math.round(innerHeight * devicePixelRatio);
    if (view) drawOverlay(canvas, view);
  }
}
