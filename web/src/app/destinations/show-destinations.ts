import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { listDestinations, setShowDestinations, type Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { Notice } from '../look/notice';
import { Tile } from '../look/tile';
import { RelayActions } from '../relay/relay.actions';
import { relayFeature } from '../relay/relay.feature';
import { destinationTexts } from './destinations.texts';
import { ShowRoutes } from './show-routes';

/** Where a show goes: chosen by ticking. Each tick is saved at once, apart from the show's text. */
@Component({
  selector: 'jn-show-destinations',
  imports: [Notice, RouterLink, ShowRoutes, Tile],
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
          </li>
        } @empty {
          <li class="soft">
            {{ texts.ofShowNone }} <a routerLink="/destinations">{{ texts.toDestinations }}</a>
          </li>
        }
      </ul>
      @if (!readOnly() && all().length > 0) {
        <jn-show-routes [showId]="showId()" [mayKeep]="chosen().length > 0" (applied)="look()" />
      }
    </section>
  `,
  styles: `
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

  protected choose(id: string, on: boolean): void {
    const kept = this.chosen()
      .map((one) => one.id)
      .filter((one) => one !== id);
    const body = { destinationIds: on ? [...kept, id] : kept };
    this.api.call(setShowDestinations, { params: { showId: this.showId() }, body }).subscribe({
      next: () => this.look(),
      error: (error: ErrorBody) => {
        // The tick goes back to what holds.
        this.look();
        this.error.set(error);
      },
    });
  }

  /** Reads where the show goes now. */
  protected look(): void {
    this.error.set(null);
    this.store.dispatch(RelayActions.stale());
  }
}
