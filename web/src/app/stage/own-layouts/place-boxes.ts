import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input } from '@angular/core';
import { nameOf, WHOLE, type Grip, type OwnPlace } from '@juncta/core/stage';
import { wordsOf } from '../panels/source-words';
import { Arranging } from './arranging';
import { ownLayoutTexts } from './own-layouts.texts';

/** A step of the keyboard: of the picture's width or height. */
const STEP = 0.01;
const NONE: Grip = { left: false, top: false, right: false, bottom: false };
const CORNERS: readonly Grip[] = [
  { ...NONE, left: true, top: true },
  { ...NONE, right: true, top: true },
  { ...NONE, left: true, bottom: true },
  { ...NONE, right: true, bottom: true },
];
const FAR_EDGES: Grip = { ...NONE, right: true, bottom: true };

interface Dragged {
  readonly at: number;
  readonly from: OwnPlace;
  readonly grip: Grip;
  readonly x: number;
  readonly y: number;
}

/** The places of a layout that is being made, over the picture of what comes next: dragged, or moved by the keyboard. */
@Component({
  selector: 'jn-place-boxes',
  template: `
    @for (box of boxes(); track $index) {
      <button
        type="button"
        class="box"
        [class.chosen]="arranging.chosen() === $index"
        [attr.aria-label]="box.label"
        [style.left.%]="box.place.x * 100"
        [style.top.%]="box.place.y * 100"
        [style.width.%]="box.place.width * 100"
        [style.height.%]="box.place.height * 100"
        (focus)="arranging.chosen.set($index)"
        (pointerdown)="seize($event, $index, whole)"
        (pointermove)="drag($event)"
        (pointerup)="release()"
        (pointercancel)="release()"
        (keydown)="press($event, $index)"
      >
        <span class="words">{{ box.words }}</span>
        @for (corner of corners; track $index) {
          <span
            class="corner"
            [class.right]="corner.right"
            [class.bottom]="corner.bottom"
            (pointerdown)="seize($event, box.at, corner)"
          ></span>
        }
      </button>
    }
    @if (arranging.lines().x; as x) {
      <span class="line upright" [style.left.%]="x * 100"></span>
    }
    @if (arranging.lines().y; as y) {
      <span class="line" [style.top.%]="y * 100"></span>
    }
  `,
  styleUrl: './place-boxes.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'group', '[attr.aria-label]': 'texts.title' },
})
export class PlaceBoxes {
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly arranging = inject(Arranging);
  protected readonly texts = ownLayoutTexts;
  protected readonly whole = WHOLE;
  protected readonly corners = CORNERS;

  /** Of the people of the show, by their ids in it. */
  readonly names = input.required<ReadonlyMap<string, string>>();

  protected readonly boxes = computed(() => {
    const takers = this.arranging.takers();
    return (this.arranging.layout()?.places ?? []).map((place, at) => {
      const source = takers[at] ?? null;
      const who = source && (this.names().get(nameOf(source).owner) ?? wordsOf(source, this.names()));
      const words = ownLayoutTexts.placeOf(at + 1, who);
      const figures = [place.x, place.y, place.width, place.height].map((share) => Math.round(share * 100));
      return { at, place, words, label: ownLayoutTexts.boxOf(words, figures) };
    });
  });
  private dragged: Dragged | null = null;

  protected seize(event: PointerEvent, at: number, grip: Grip): void {
    if (event.button !== 0) return;
    // Of a corner, and not of its box as well.
    event.stopPropagation();
    const box = (event.currentTarget as HTMLElement).closest<HTMLElement>('.box')!;
    box.setPointerCapture(event.pointerId);
    box.focus();
    const from = this.arranging.layout()!.places[at]!;
    this.dragged = { at, from, grip, x: event.clientX, y: event.clientY };
  }

  protected drag(event: PointerEvent): void {
    if (!this.dragged) return;
    const { at, from, grip, x, y } = this.dragged;
    const { width, height } = this.element.nativeElement.getBoundingClientRect();
    const [byX, byY] = [(event.clientX - x) / width, (event.clientY - y) / height];
    this.arranging.drag(at, from, grip, byX, byY, event.altKey);
  }

  protected release(): void {
    if (!this.dragged) return;
    this.dragged = null;
    this.arranging.release();
  }

  /** Arrows move a place; with Shift they move its right and lower edge. */
  protected press(event: KeyboardEvent, at: number): void {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const from = this.arranging.layout()!.places[at]!;
    const [x, y] = step;
    this.arranging.drag(at, from, event.shiftKey ? FAR_EDGES : WHOLE, x * STEP, y * STEP, true);
  }
}

const STEPS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
