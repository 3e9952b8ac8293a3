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
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { listDestinations, setShowDestinations, type Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { Store } from '@ngrx/store';
import { catchError, concatMap, EMPTY, Subject, tap } from 'rxjs';
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

  /** What was ticked here and is not known to be saved yet; null: nothing. Ticks come faster than answers. */
  private readonly wanted = signal<readonly string[] | null>(null);
  private readonly ids = computed(() => this.wanted() ?? this.chosen().map(({ id }) => id));
  private readonly toSave = new Subject<readonly string[]>();

  constructor() {
    this.toSave
      .pipe(
        concatMap((ids) => this.save(ids)),
        takeUntilDestroyed(),
      )
      .subscribe();
    effect(() => {
      const [there, wanted] = [this.chosen().map(({ id }) => id), untracked(this.wanted)];
      if (wanted?.join() === there.join()) this.wanted.set(null);
    });
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
    return this.ids().includes(id);
  }

  protected choose(id: string, on: boolean): void {
    const kept = this.ids().filter((one) => one !== id);
    this.wanted.set(on ? [...kept, id] : kept);
    this.toSave.next(this.wanted()!);
  }

  private save(destinationIds: readonly string[]) {
    const params = { showId: this.showId() };
    return this.api.call(setShowDestinations, { params, body: { destinationIds: [...destinationIds] } }).pipe(
      tap(() => this.look()),
      catchError((error: ErrorBody) => {
        // The ticks go back to what holds.
        this.wanted.set(null);
        this.look();
        this.error.set(error);
        return EMPTY;
      }),
    );
  }

  /** Reads where the show goes now. */
  protected look(): void {
    this.error.set(null);
    this.store.dispatch(RelayActions.stale());
  }
}
