import { computed, inject, Injectable, signal } from '@angular/core';
import {
  caught,
  geometry,
  moved,
  placeAt,
  placedIn,
  placesTaken,
  PROGRAMME,
  slotKindOf,
  type Caught,
  type Grip,
  type OwnLayout,
  type OwnPlace,
  type Scene,
  type SourceId,
} from '@juncta/core/stage';
import { ShowDrawing } from '../dressed/show-drawing';
import { StageLink } from '../stage-link';

/** While a place is dragged, so often at the most is it given on. */
const GIVEN_EVERY_MS = 120;
const NO_LINES: Caught = { x: null, y: null };

/** A layout that is being made at this desk, on what comes next: viewers see nothing of it until it is taken. */
@Injectable({ providedIn: 'root' })
export class Arranging {
  private readonly stage = inject(StageLink);
  private readonly drawing = inject(ShowDrawing);
  private readonly made = signal<OwnLayout | null>(null);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private isGiven = true;
  /** How often something had been taken when it was begun. */
  private readonly takes = signal(-1);

  /** Null: none is. */
  readonly layout = this.made.asReadonly();
  /** The place whose figures are shown. */
  readonly chosen = signal(0);
  /** Where a dragged place is caught. */
  readonly lines = signal<Caught>(NO_LINES);
  /** Who stands in each place; null: nobody. */
  readonly takers = computed<readonly (SourceId | null)[]>(() => {
    const layout = this.made();
    if (!layout) return [];
    const sources = placedIn(this.stage.scene());
    const taken = placesTaken(layout, sources.map(slotKindOf));
    return layout.places.map((_, at) => sources[taken.indexOf(at)] ?? null);
  });

  /** What comes next is still what it is made on: nobody took or dropped it since, here or at another desk. */
  readonly isCurrent = computed(() => {
    const { armed, takes } = this.stage.stage();
    return armed !== null && takes === this.takes();
  });

  /** From how everybody stands in what comes next. False: nobody is in it. */
  begin(): boolean {
    const scene = this.stage.scene();
    const layout = scene.own ?? layoutOf(scene, this.drawing.space());
    if (layout.places.length === 0) return false;
    if (!this.stage.isArmed()) this.stage.arm(true);
    this.takes.set(this.stage.stage().takes);
    this.chosen.set(0);
    this.made.set(layout);
    return true;
  }

  end(): void {
    this.give();
    this.made.set(null);
    this.release();
  }

  /**
   * Moves a place from where it was when it was seized.
   *
   * @param isFree nothing catches it
   */
  drag(at: number, from: OwnPlace, grip: Grip, byX: number, byY: number, isFree: boolean): void {
    const others = this.made()?.places.filter((_, i) => i !== at) ?? [];
    const wanted = moved(from, grip, byX, byY);
    const { place, lines } = isFree ? { place: wanted, lines: NO_LINES } : caught(wanted, grip, others);
    this.lines.set(lines);
    this.set(at, place);
  }

  /** It is let go of. */
  release(): void {
    this.lines.set(NO_LINES);
    this.give();
  }

  set(at: number, values: Partial<OwnPlace>): void {
    this.made.update(
      (layout) =>
        layout && {
          ...layout,
          places: layout.places.map((place, i) => (i === at ? { ...place, ...values } : place)),
        },
    );
    this.isGiven = false;
    this.timer ??= setTimeout(() => this.give(), GIVEN_EVERY_MS);
  }

  /** It is kept by this name from now on, as another than the one it was made from. */
  call(name: string, id: string): OwnLayout {
    this.made.update((layout) => layout && { ...layout, id, name });
    this.isGiven = false;
    this.give();
    return this.made()!;
  }

  private give(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    const own = this.made();
    if (this.isGiven || !own) return;
    this.isGiven = true;
    // It is not to come on programme by itself, nor into whatever was prepared instead.
    if (this.isCurrent()) this.stage.change({ type: 'own_layout', own });
  }
}

function layoutOf(scene: Scene, space: number): OwnLayout {
  const placed = geometry(scene, PROGRAMME, space);
  const places = placedIn(scene).flatMap((source) => {
    const rect = placed.find((one) => one.source === source)?.rect;
    return rect ? [placeAt(rect, slotKindOf(source), PROGRAMME)] : [];
  });
  return { id: crypto.randomUUID(), name: '', places };
}
