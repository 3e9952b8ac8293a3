import {
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  input,
  output,
} from '@angular/core';
import { putBackShow } from '@juncta/contract/programme';
import type { Show } from '@juncta/contract/shows';
import { canBePutBack } from '@juncta/core/shows';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { ArmedKey } from '../look/keys/armed-key';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { RecordingsList } from '../recordings/recordings-list';
import { listingsFeature } from '../listings/listings.feature';
import { overTexts } from './programme.texts';

/** A show that is over, on its desk: what was recorded, and the two ways back, neither of which is pressed by habit. */
@Component({
  selector: 'jn-over-panel',
  imports: [ArmedKey, Key, Notice, RecordingsList],
  template: `
    <p role="status">{{ ended() }}</p>
    <jn-recordings-list [showId]="show().id" />
    @if (mayRun()) {
      @if (request.error(); as error) {
        <jn-notice kind="wrong">{{ error.sentence }}</jn-notice>
      }
      <div class="keys">
        @if (canBePutBack()) {
          <jn-armed-key
            [label]="texts.putBack"
            [armedLabel]="texts.putBackArmed"
            [disabled]="request.busy()"
            (fired)="putBack()"
          />
        }
        @if (!again()) {
          <button jnKey type="button" (click)="airAgain.emit()">{{ texts.again }}</button>
        }
      </div>
      @if (canBePutBack()) {
        <p class="soft">{{ texts.putBackText }}{{ places() }}</p>
      }
    }
  `,
  styles: `
    :host,
    .keys {
      display: grid;
      gap: var(--space-3);
      justify-items: start;
    }
    p {
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { tabindex: '-1' },
})
export class OverPanel {
  private readonly api = inject(Api);
  private readonly format = inject(TimeFormat);
  private readonly store = inject(Store);
  protected readonly texts = overTexts;

  readonly show = input.required<Show>();
  readonly mayRun = input.required<boolean>();
  readonly again = input.required<boolean>();
  readonly airAgain = output();

  protected readonly request = new RequestState();
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly listings = this.store.selectSignal(listingsFeature.selectListings);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);

  private readonly clock = inject(PageClock);
  protected readonly canBePutBack = computed(() => canBePutBack(this.show(), this.clock.nowMs()));
  protected readonly ended = computed(() => {
    const { startedAtMs, endedAtMs } = this.show();
    return endedAtMs === null || startedAtMs === null
      ? ''
      : overTexts.ended(
          this.format.time(endedAtMs),
          this.format.length(Math.round((endedAtMs - startedAtMs) / 60_000)),
        );
  });
  /** Where putting it back leaves something to be done. */
  protected readonly places = computed(() => {
    const names = this.listings().flatMap(({ destinationId, state }) => {
      const place = this.destinations().find(({ id }) => id === destinationId);
      const isMade = place?.rules.capabilities.booking.kind !== 'none';
      return place && isMade && state === 'closed' ? [place.name] : [];
    });
    return names.length > 0 ? ` ${overTexts.eventsOver(names.join(', '))}` : '';
  });

  /** Whoever has just ended the show looks here next. */
  focus(): void {
    this.element.nativeElement.focus();
  }

  protected putBack(): void {
    this.request.clear();
    this.request.run(this.api.call(putBackShow, { params: { showId: this.show().id } }));
  }
}
