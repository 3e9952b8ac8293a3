import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { listDestinations, setShowDestinations, type Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { saveListing } from '@juncta/contract/listings';
import { countText, overLength } from '@juncta/core/listings';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { Notice } from '../look/notice';
import { Tile } from '../look/tile';
import { RelayActions } from '../relay/relay.actions';
import { relayFeature } from '../relay/relay.feature';
import { destinationTexts } from './destinations.texts';

/** Where a show goes: chosen by ticking. Each tick is saved at once, apart from the show's text. */
@Component({
  selector: 'jn-show-destinations',
  imports: [Notice, RouterLink, Tile],
  template: `
    <section class="panel stack" aria-labelledby="destinations-title">
      <h2 id="destinations-title">{{ texts.ofShow }}</h2>
      @if (error(); as error) {
        <jn-notice kind="wrong">{{ error.sentence }}</jn-notice>
      }
      @if (all().length > 0 && chosen().length === 0) {
        <jn-notice kind="look">{{ texts.noneChosen }}</jn-notice>
      }
      <ul class="plain">
        @for (one of all(); track one.id) {
          <li>
            <label>
              <input
                #tick
                type="checkbox"
                [checked]="isChosen(one.id)"
                [disabled]="readOnly()"
                (change)="choose(one.id, tick.checked)"
              />
              <jn-tile [code]="one.code" [pattern]="one.pattern" name="" aria-hidden="true" />
              <span>{{ one.name }}</span>
            </label>
            @if (isChosen(one.id) && one.rules.capabilities.title; as rule) {
              <div class="field">
                <label [for]="'title-' + one.id">{{ texts.titleAt(one.rules.place) }}</label>
                <input
                  #title
                  class="input"
                  [id]="'title-' + one.id"
                  [value]="ownTitle(one.id) ?? ''"
                  [placeholder]="showTitle()"
                  [readonly]="readOnly()"
                  [attr.aria-invalid]="overOf(one, title.value) > 0"
                  [attr.aria-describedby]="'count-' + one.id"
                  (input)="typed.set(title.value)"
                  (change)="rename(one.id, title.value)"
                />
                <span class="hint" [id]="'count-' + one.id">
                  <span class="figure">{{ countOf(one, title.value) }}</span> {{ texts.of }}
                  <span class="figure">{{ rule.max }}</span> {{ texts.units[rule.unit] }}
                  @if (title.value === '') {
                    · {{ texts.asShow }}
                  }
                </span>
                @if (overOf(one, title.value); as over) {
                  <span class="problem">{{ texts.tooLong(over) }}</span>
                }
              </div>
            }
          </li>
        } @empty {
          <li class="soft">
            {{ texts.ofShowNone }} <a routerLink="/destinations">{{ texts.toDestinations }}</a>
          </li>
        }
      </ul>
    </section>
  `,
  styles: `
    .field {
      margin: 0 0 var(--space-3) 1.95rem;
    }
    li > label {
      display: flex;
      align-items: center;
      gap: var(--space-3);
      padding-block: var(--space-1);
    }
    input[type='checkbox'] {
      width: 1.2rem;
      height: 1.2rem;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShowDestinations {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = destinationTexts;

  readonly showId = input.required<string>();
  readonly readOnly = input.required<boolean>();
  /** What a listing without a title of its own shows. */
  readonly showTitle = input.required<string>();
  /** The field is counted as it is typed in. */
  protected readonly typed = signal('');
  private readonly listings = this.store.selectSignal(relayFeature.selectListings);
  protected readonly all = signal<readonly Destination[]>([]);
  protected readonly error = signal<ErrorBody | null>(null);
  protected readonly chosen = this.store.selectSignal(relayFeature.selectDestinations);

  constructor() {
    this.api.call(listDestinations).subscribe({
      next: ({ destinations }) => this.all.set(destinations),
      error: (error: ErrorBody) => this.error.set(error),
    });
    effect(() => {
      const showId = this.showId();
      untracked(() => this.store.dispatch(RelayActions.opened({ showId })));
    });
  }

  protected isChosen(id: string): boolean {
    return this.chosen().some((one) => one.id === id);
  }

  protected ownTitle(id: string): string | null {
    return this.listings().find(({ destinationId }) => destinationId === id)?.title ?? null;
  }

  /** Of what will be sent: an empty field sends the show's title. */
  protected countOf({ rules }: Destination, typed: string): number {
    const rule = rules.capabilities.title;
    return rule ? countText(typed || this.showTitle(), rule.unit) : 0;
  }

  protected overOf({ rules }: Destination, typed: string): number {
    return overLength(typed || this.showTitle(), rules.capabilities.title);
  }

  protected rename(destinationId: string, typed: string): void {
    const body = { title: typed.trim() || null };
    this.api.call(saveListing, { params: { showId: this.showId(), destinationId }, body }).subscribe({
      next: (listing) => {
        this.error.set(null);
        this.store.dispatch(RelayActions.listingChanged({ showId: this.showId(), listing }));
      },
      error: (error: ErrorBody) => this.error.set(error),
    });
  }

  protected choose(id: string, on: boolean): void {
    const kept = this.chosen()
      .map((one) => one.id)
      .filter((one) => one !== id);
    const body = { destinationIds: on ? [...kept, id] : kept };
    this.api.call(setShowDestinations, { params: { showId: this.showId() }, body }).subscribe({
      next: () => {
        this.error.set(null);
        this.store.dispatch(RelayActions.stale());
      },
      error: (error: ErrorBody) => {
        this.error.set(error);
        // The tick goes back to what holds.
        this.store.dispatch(RelayActions.stale());
      },
    });
  }
}
