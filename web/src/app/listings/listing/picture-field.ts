import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { picturePath, removePicture, type Listing, type Picture } from '@juncta/contract/listings';
import { PICTURE_MAX_BYTES } from '@juncta/contract/http';
import { CENTRED, cutOf, MOST_ZOOM, type Crop, type PictureRule } from '@juncta/core/listings';
import { RequestState } from '../../api/request-state';
import { finalize } from 'rxjs';
import { Api } from '../../api/api';
import { FileKey } from '../../look/keys/file-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { pictureTexts } from '../listings.texts';

/** A picture, and which part of it is shown at a place: the show's own, or that of one listing. */
@Component({
  selector: 'jn-picture-field',
  imports: [FileKey, Key, Notice],
  templateUrl: './picture-field.html',
  styleUrl: './picture-field.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PictureField {
  private readonly api = inject(Api);
  protected readonly texts = pictureTexts;
  protected readonly mostZoom = MOST_ZOOM;

  readonly fieldId = input.required<string>();
  readonly showId = input.required<string>();
  /** `show`, or a destination's id. */
  readonly scope = input.required<string>();
  readonly shared = input.required<Picture | null>();
  readonly own = input.required<Picture | null>();
  /** What the place takes; null: the picture is shown whole. */
  readonly rule = input.required<PictureRule | null>();
  readonly crop = input.required<Listing['crop']>();
  readonly readOnly = input.required<boolean>();
  /** Keeps the part that is shown, and comes back when it is kept or cannot be. Only with a rule. */
  readonly keep = input<(crop: Crop | null) => Promise<void>>(() => Promise.resolve());

  protected readonly request = new RequestState();
  protected readonly sending = signal(false);
  /** While somebody drags, and until that is kept: what they change next goes on from here. */
  private readonly moving = signal<Crop | null>(null);
  private grip: { x: number; y: number; crop: Crop; width: number; height: number } | null = null;

  protected readonly picture = computed(() => this.own() ?? this.shared());
  protected readonly inherits = computed(() => this.own() === null && this.scope() !== 'show');
  protected readonly src = computed(() => {
    const [picture, scope] = [this.picture(), this.inherits() ? 'show' : this.scope()];
    return picture && `${picturePath(this.showId(), scope)}?v=${picture.version}`;
  });
  protected readonly now = computed(() => this.moving() ?? this.crop() ?? CENTRED);
  protected readonly cut = computed(() => {
    const picture = this.picture();
    return picture && cutOf(picture, this.rule()?.aspect ?? null, this.now());
  });
  /** Where the whole picture lies behind the frame, in hundredths of the frame. */
  protected readonly laid = computed(() => {
    const [picture, cut] = [this.picture(), this.cut()];
    if (!picture || !cut) return null;
    return {
      width: (picture.width / cut.width) * 100,
      left: (-cut.left / cut.width) * 100,
      top: (-cut.top / cut.height) * 100,
    };
  });
  protected readonly mayCrop = computed(
    () => this.rule() !== null && !this.readOnly() && this.picture() !== null,
  );

  protected upload(file: File): void {
    if (file.size > PICTURE_MAX_BYTES) {
      this.request.fail({ code: 'too_long', sentence: this.texts.tooHeavy });
      return;
    }
    const sent = this.api.upload(picturePath(this.showId(), this.scope()), file);
    this.sending.set(true);
    this.request.run(sent.pipe(finalize(() => this.sending.set(false))));
  }

  protected remove(): void {
    const params = { showId: this.showId(), scope: this.scope() };
    this.request.run(this.api.call(removePicture, { params }));
  }

  protected slide(change: Partial<Crop>): void {
    this.moving.set({ ...this.now(), ...change });
  }

  protected async settle(): Promise<void> {
    const crop = this.moving();
    if (!crop) return;
    await this.keep()(crop);
    if (this.moving() === crop) this.moving.set(null);
  }

  protected take(event: PointerEvent): void {
    if (!this.mayCrop()) return;
    const frame = event.currentTarget as HTMLElement;
    frame.setPointerCapture(event.pointerId);
    const { width, height } = frame.getBoundingClientRect();
    this.grip = { x: event.clientX, y: event.clientY, crop: this.now(), width, height };
  }

  /** The picture goes with the hand: its middle moves the other way. */
  protected drag(event: PointerEvent): void {
    const { grip } = this;
    const [picture, cut] = [this.picture(), this.cut()];
    if (!grip || !picture || !cut) return;
    const within = (value: number) => Math.min(1, Math.max(0, value));
    this.moving.set({
      ...grip.crop,
      x: within(grip.crop.x - ((event.clientX - grip.x) / grip.width) * (cut.width / picture.width)),
      y: within(grip.crop.y - ((event.clientY - grip.y) / grip.height) * (cut.height / picture.height)),
    });
  }

  protected release(): void {
    this.grip = null;
    void this.settle();
  }
}
