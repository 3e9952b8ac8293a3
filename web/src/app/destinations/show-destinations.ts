import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { setShowDestinations } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { Store } from '@ngrx/store';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { Tile } from '../look/tile';
import { ListingsActions } from '../listings/listings.actions';
import { listingsFeature } from '../listings/listings.feature';
import { DestinationsActions } from './destinations.actions';
import { destinationsFeature } from './destinations.feature';
import { destinationTexts } from './destinations.texts';
import { ShowRoutes } from './lines/show-routes';

/** Where a show goes: chosen by ticking. Each tick is saved at once, apart from the show's text. */
@Component({
  selector: 'jn-show-destinations',
  imports: [Key, Notice, RouterLink, ShowRoutes, Tile],
  template: `
    <section class="panel stack" aria-labelledby="destinations-title">
      <h2 id="destinations-title">{{ texts.ofShow }}</h2>
      @if (problem(); as problem) {
        <jn-notice kind="wrong">{{ problem.sentence }}</jn-notice>
      }
      @if (isKnown()) {
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
      } @else if (problem()) {
        <p>
          <button jnKey type="button" (click)="read()">{{ texts.again }}</button>
        </p>
      } @else {
        <p class="soft">{{ texts.reading }}</p>
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
  host: { '(window:beforeunload)': 'onLeave($event)' },
})
export class ShowDestinations {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = destinationTexts;

  readonly showId = input.required<string>();
  readonly readOnly = input.required<boolean>();
  protected readonly all = this.store.selectSignal(destinationsFeature.selectAll);
  private readonly allKnown = this.store.selectSignal(destinationsFeature.selectIsKnown);
  private readonly allUnread = this.store.selectSignal(destinationsFeature.selectError);
  private readonly error = signal<ErrorBody | null>(null);
  protected readonly chosen = this.store.selectSignal(listingsFeature.selectDestinations);

  private readonly status = this.store.selectSignal(listingsFeature.selectStatus);
  private readonly shownId = this.store.selectSignal(listingsFeature.selectShowId);
  private readonly unread = this.store.selectSignal(listingsFeature.selectError);
  /** Before it is known where the show goes, boxes would say that it goes nowhere, and a tick take the others away. */
  protected readonly isKnown = computed(
    () => this.allKnown() && this.status() === 'known' && this.shownId() === this.showId(),
  );
  protected readonly problem = computed(
    () => this.error() ?? this.allUnread() ?? (this.status() === 'failed' ? this.unread() : null),
  );
  /** What was ticked here and is not known to be saved yet; null: nothing. Ticks come faster than answers. */
  private readonly wanted = signal<readonly string[] | null>(null);
  private readonly ids = computed(() => this.wanted() ?? this.chosen().map(({ id }) => id));
  /** What is to be saved once the save that is under way is done: each says all of it, so the latest is enough. */
  private unsaved: { readonly showId: string; readonly destinationIds: readonly string[] } | null = null;
  private readonly saving = signal(false);

  constructor() {
    effect(() => {
      const [there, wanted] = [this.chosen().map(({ id }) => id), untracked(this.wanted)];
      if (wanted?.join() === there.join()) this.wanted.set(null);
    });
    effect(() => {
      this.showId();
      untracked(() => {
        this.wanted.set(null);
        this.read();
      });
    });
  }

  protected read(): void {
    this.error.set(null);
    this.store.dispatch(ListingsActions.opened({ showId: this.showId() }));
    this.store.dispatch(DestinationsActions.wanted());
    if (this.status() === 'failed') this.store.dispatch(ListingsActions.stale());
  }

  protected isChosen(id: string): boolean {
    return this.ids().includes(id);
  }

  protected choose(id: string, on: boolean): void {
    const kept = this.ids().filter((one) => one !== id);
    const destinationIds = on ? [...kept, id] : kept;
    this.wanted.set(destinationIds);
    this.unsaved = { showId: this.showId(), destinationIds };
    if (!this.saving()) void this.saveAll();
  }

  /** Goes on when this is not looked at any more: whoever ticks and goes to the desk has ticked. */
  private async saveAll(): Promise<void> {
    this.saving.set(true);
    for (let next = this.unsaved; next !== null; next = this.unsaved) {
      this.unsaved = null;
      await this.save(next.showId, next.destinationIds);
    }
    this.saving.set(false);
  }

  private async save(showId: string, destinationIds: readonly string[]): Promise<void> {
    const body = { destinationIds: [...destinationIds] };
    try {
      await firstValueFrom(this.api.call(setShowDestinations, { params: { showId }, body }));
      this.look();
    } catch (error) {
      // The ticks go back to what holds.
      this.unsaved = null;
      this.wanted.set(null);
      this.look();
      this.error.set(error as ErrorBody);
    }
  }

  /** The browser asks whoever closes the page while something is being saved. */
  onLeave(event: Event): void {
    if (this.saving()) event.preventDefault();
  }

  /** Reads where the show goes now. */
  protected look(): void {
    this.error.set(null);
    this.store.dispatch(ListingsActions.stale());
  }
}
