import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { dressingImagePath } from '@juncta/contract/dressing';
import {
  LEAST_OPACITY,
  LEAST_OVERLAY_WIDTH,
  MOST_OVERLAYS,
  OVERLAY_NAME_MAX,
  OVERLAY_PLACES,
  type Overlay,
} from '@juncta/core/dressing';
import { ArmedKey } from '../look/keys/armed-key';
import { FileKey } from '../look/keys/file-key';
import { dressingTexts } from './dressing.texts';

/** A file for a new overlay, or in the place of the picture of one there is. */
export interface OverlayFile {
  readonly file: File;
  /** Null: a new one. */
  readonly id: string | null;
}

/** The overlays of a dressing: what each is called, where it stands and how it is seen. */
@Component({
  selector: 'jn-overlay-fields',
  imports: [ArmedKey, FileKey],
  templateUrl: './overlay-fields.html',
  styleUrl: './overlay-fields.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OverlayFields {
  protected readonly texts = dressingTexts;
  protected readonly places = OVERLAY_PLACES;
  protected readonly nameMax = OVERLAY_NAME_MAX;
  protected readonly leastWidth = 100 * LEAST_OVERLAY_WIDTH;
  protected readonly leastOpacity = 100 * LEAST_OPACITY;
  protected readonly accept = 'image/png,image/svg+xml,image/jpeg,image/webp,video/webm';
  protected readonly pathOf = dressingImagePath;

  readonly overlays = input.required<readonly Overlay[]>();
  readonly mayChange = input.required<boolean>();
  /** One is being sent: making one of what moves takes a while. */
  readonly busy = input.required<boolean>();
  readonly changed = output<readonly Overlay[]>();
  readonly sent = output<OverlayFile>();

  protected readonly hasRoom = computed(() => this.overlays().length < MOST_OVERLAYS);

  protected set(id: string, values: Partial<Overlay>): void {
    this.changed.emit(this.overlays().map((one) => (one.id === id ? { ...one, ...values } : one)));
  }

  /** One that is called nothing keeps its name: viewers never see it, but a desk has to. */
  protected rename(overlay: Overlay, field: HTMLInputElement): void {
    const name = field.value.trim() || overlay.name;
    field.value = name;
    this.set(overlay.id, { name });
  }

  protected drop(id: string): void {
    this.changed.emit(this.overlays().filter((one) => one.id !== id));
  }
}
