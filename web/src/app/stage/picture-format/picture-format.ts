import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { setPictureFormat } from '@juncta/contract/programme';
import type { Show } from '@juncta/contract/shows';
import { PICTURE_FORMATS, type PictureFormat } from '@juncta/core/programme';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { listingsFeature } from '../../listings/listings.feature';
import { PlaceFormats } from '../../renditions/place-formats';
import { RequestState } from '../../api/request-state';
import { Key } from '../../look/keys/key';
import { ProgrammeActions } from '../../programme/programme.actions';
import { ShowsActions } from '../../shows/shows.actions';
import { ComposingDesk } from '../composing-desk';
import { pictureFormatTexts } from './picture-format.texts';
import { tryFormat } from './trial';

interface Tried {
  readonly format: PictureFormat;
  readonly found: Awaited<ReturnType<typeof tryFormat>>;
}

/** Size and rate of a show's programme, settled before its first feed, and whether this computer holds it. */
@Component({
  selector: 'jn-picture-format',
  imports: [Key, PlaceFormats],
  template: `
    <div class="field choice">
      <label for="picture-format">{{ texts.title }}</label>
      <select
        #format
        id="picture-format"
        class="input"
        [disabled]="settled()"
        (change)="choose(format.value)"
      >
        @for (one of formats; track one) {
          <option [value]="one" [selected]="one === wanted()">{{ texts.of[one] }}</option>
        }
      </select>
    </div>
    @if (!settled()) {
      <jn-place-formats [format]="wanted()" [destinations]="destinations()" />
    }
    @if (found() !== '') {
      <p class="soft" role="status" [class.warn]="isShort()">{{ found() }}</p>
    }
    @if (canTry()) {
      <button
        jnKey
        type="button"
        [lamp]="trying() ? 'working' : 'dark'"
        [disabled]="trying()"
        (click)="check()"
      >
        {{ texts.check }}
      </button>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      width: 100%;
      gap: var(--space-2);
      justify-items: start;
    }
    .choice {
      display: flex;
      align-items: center;
      gap: var(--space-3);
      max-width: 100%;
    }
    select {
      flex: 1;
      width: auto;
      min-width: 0;
    }
    p {
      margin: 0;
    }
    .warn {
      color: var(--saffron-text);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PictureFormatChoice {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly desk = inject(ComposingDesk);
  protected readonly texts = pictureFormatTexts;
  protected readonly formats = PICTURE_FORMATS;

  readonly show = input.required<Show>();
  /** The programme goes out: nothing of it changes any more. */
  readonly settled = input.required<boolean>();

  protected readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);

  private readonly saving = new RequestState();
  /** Chosen here, and not yet known to be saved. */
  private readonly chosen = signal<PictureFormat | null>(null);
  protected readonly wanted = computed(() => this.chosen() ?? this.show().pictureFormat);
  protected readonly trying = signal(false);
  /** What the last trial found, of the format it was made of. */
  private readonly tried = signal<Tried | null>(null);
  private readonly last = computed(() => {
    const tried = this.tried();
    return tried?.format === this.wanted() ? tried : null;
  });
  /** Beside what is composed here a trial would take its time away. */
  protected readonly canTry = computed(() => this.desk.canCompose() && this.desk.status() !== 'composing');
  protected readonly isShort = computed(() => {
    const last = this.last();
    return last !== null && last.found?.verdict !== 'holds';
  });
  protected readonly found = computed(() => {
    if (this.trying()) return pictureFormatTexts.checking;
    const last = this.last();
    if (!last) return '';
    if (!last.found) return pictureFormatTexts.failed;
    const { verdict, last: trial } = last.found;
    if (verdict === 'holds') return pictureFormatTexts.holds(trial);
    if (verdict === 'holds_few') return pictureFormatTexts.holdsFew(trial);
    return last.format === PICTURE_FORMATS[0]
      ? pictureFormatTexts.shortAtLeast(trial)
      : pictureFormatTexts.short(trial);
  });

  protected choose(format: string): void {
    const params = { showId: this.show().id };
    const body = { pictureFormat: format as PictureFormat };
    this.chosen.set(body.pictureFormat);
    this.saving.run(
      this.api.call(setPictureFormat, { params, body }),
      (show) => {
        this.store.dispatch(ShowsActions.showSaved({ show }));
        this.chosen.set(null);
      },
      (error) => {
        this.store.dispatch(ProgrammeActions.refused({ error }));
        this.chosen.set(null);
      },
    );
  }

  protected async check(): Promise<void> {
    const format = this.wanted();
    this.trying.set(true);
    try {
      this.tried.set({ format, found: await tryFormat(format) });
    } finally {
      this.trying.set(false);
    }
  }
}
