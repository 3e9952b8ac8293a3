import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
} from '@angular/core';
import { PICTURE_SHAPES } from '@juncta/core/programme';
import { setEncoderLimit, type Destination, type EncoderLimit } from '@juncta/contract/destinations';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { shapeTexts } from '../../renditions/renditions.texts';
import { takesTexts } from '../destinations.texts';

const HEIGHTS = [1080, 720, 540, 480, 360] as const;
const RATES = [60, 50, 30, 25, 15] as const;

/** What a place that is reached by address and key takes at most: nobody but the team can know. */
@Component({
  selector: 'jn-takes-form',
  imports: [Key, Notice],
  template: `
    <h3>{{ texts.title }}</h3>
    <p class="soft">{{ destination().encoderLimit ? texts.known : texts.unknown }}</p>
    @if (request.error(); as error) {
      <jn-notice kind="wrong">{{ error.fields?.[0]?.sentence ?? error.sentence }}</jn-notice>
    }
    <form class="stack" (submit)="$event.preventDefault(); save()">
      <div class="field">
        <label for="takes-shape">{{ texts.shape }}</label>
        <select #shape id="takes-shape" class="input" (change)="shapeIs(shape.value)">
          @for (one of shapes; track one) {
            <option [value]="one" [selected]="one === shown().shape">{{ shapeTexts[one] }}</option>
          }
        </select>
      </div>
      @if (shown().shape !== 'landscape') {
        <p class="soft">{{ texts.uprightText }}</p>
      }
      <div class="field">
        <label for="takes-lines">{{ shown().shape === 'landscape' ? texts.lines : texts.across }}</label>
        <select #lines id="takes-lines" class="input" (change)="set({ maxHeight: +lines.value })">
          @for (one of heights; track one) {
            <option [value]="one" [selected]="one === shown().maxHeight">{{ one }}</option>
          }
        </select>
      </div>
      <div class="field">
        <label for="takes-rate">{{ texts.rate }}</label>
        <select #rate id="takes-rate" class="input" (change)="set({ maxFramesPerS: +rate.value })">
          @for (one of rates; track one) {
            <option [value]="one" [selected]="one === shown().maxFramesPerS">{{ one }}</option>
          }
        </select>
      </div>
      <div class="field">
        <label for="takes-kbps">{{ texts.kbps }}</label>
        <input
          #kbps
          id="takes-kbps"
          class="input"
          type="number"
          inputmode="numeric"
          min="500"
          max="50000"
          step="100"
          [value]="shown().maxKbps"
          (input)="set({ maxKbps: +kbps.value })"
        />
      </div>
      <div class="row-of">
        <button jnKey type="submit" [disabled]="!isChanged() || saving()">{{ texts.save }}</button>
        @if (destination().encoderLimit) {
          <button jnKey type="button" [disabled]="saving()" (click)="send(null)">{{ texts.forget }}</button>
        }
      </div>
    </form>
  `,
  styles: `
    h3,
    p {
      margin: 0;
      font-size: 1rem;
    }
    h3 {
      font-weight: 600;
    }
    :host {
      display: grid;
      gap: var(--space-3);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TakesForm {
  private readonly api = inject(Api);
  protected readonly texts = takesTexts;
  protected readonly shapes = PICTURE_SHAPES;
  protected readonly shapeTexts = shapeTexts;
  protected readonly heights = HEIGHTS;
  protected readonly rates = RATES;

  readonly destination = input.required<Destination>();
  readonly changed = output<Destination>();

  protected readonly request = new RequestState();
  protected readonly saving = signal(false);
  private readonly edited = signal<Partial<EncoderLimit>>({});
  protected readonly shown = computed((): EncoderLimit => {
    const { shape, maxHeight, maxFramesPerS, maxKbps } = this.destination().rules.capabilities.encoder;
    return { shape, maxHeight, maxFramesPerS, maxKbps, ...this.edited() };
  });
  protected readonly isChanged = computed(() => Object.keys(this.edited()).length > 0);
  private readonly id = computed(() => this.destination().id);

  constructor() {
    effect(() => {
      this.id();
      this.edited.set({});
      this.request.clear();
    });
  }

  protected set(change: Partial<EncoderLimit>): void {
    this.edited.update((edited) => ({ ...edited, ...change }));
  }

  protected shapeIs(value: string): void {
    this.set({ shape: PICTURE_SHAPES.find((one) => one === value) ?? 'landscape' });
  }

  protected save(): void {
    if (this.isChanged()) this.send(this.shown());
  }

  protected send(limit: EncoderLimit | null): void {
    const id = this.id();
    this.saving.set(true);
    this.request.run(
      this.api.call(setEncoderLimit, { params: { destinationId: id }, body: { limit } }),
      (destination) => {
        this.saving.set(false);
        if (id === this.id()) this.edited.set({});
        this.changed.emit(destination);
      },
      () => this.saving.set(false),
    );
  }
}
