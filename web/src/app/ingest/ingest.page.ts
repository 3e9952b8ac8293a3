import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { MOST_INPUTS } from '@juncta/core/ingest';
import { Store } from '@ngrx/store';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { showsFeature } from '../shows/shows.feature';
import { InputCard } from './input-card';
import { ingestTexts } from './ingest.texts';
import { ShowInputs } from './show-inputs';
import { StandingInputs } from './standing-inputs';

/** Where outside pictures of a show are set up, seen, and taken. */
@Component({
  selector: 'jn-ingest-page',
  imports: [InputCard, Key, Notice, RouterLink, StandingInputs],
  template: `
    @if (show(); as show) {
      <div class="head">
        <a class="back" [routerLink]="['/shows', show.id]">← {{ show.text.title }}</a>
        <div class="row-of">
          <h1 class="grow">{{ texts.title }}</h1>
          @if (canAdd()) {
            <button
              jnKey
              type="button"
              [first]="state.inputs()?.length === 0"
              [disabled]="state.request.busy()"
              (click)="add()"
            >
              {{ texts.add }}
            </button>
          }
          <a jnKey [routerLink]="['/desk', show.id]">{{ texts.toDeskPage }}</a>
        </div>
        <p class="soft">{{ texts.intro }}</p>
      </div>
      @if (state.request.error(); as error) {
        <jn-notice kind="wrong">{{ error.fields?.[0]?.sentence ?? error.sentence }}</jn-notice>
      }
      @if (state.inputs(); as inputs) {
        @if (inputs.length === 0) {
          <p class="panel">{{ texts.none }}</p>
        } @else {
          <p role="status">{{ programme() }}</p>
        }
        @for (one of inputs; track one.id) {
          <jn-input-card [showId]="show.id" [input]="one" />
        }
        @if (state.standing().length > 0) {
          <jn-standing-inputs />
        }
      } @else if (state.request.error() === null) {
        <p class="soft" role="status">{{ texts.reading }}</p>
      }
    } @else if (status() === 'known') {
      <p role="status">{{ texts.gone }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-4);
    }
    p {
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class IngestPage {
  private readonly store = inject(Store);
  private readonly shows = this.store.selectSignal(showsFeature.selectEntities);
  protected readonly state = inject(ShowInputs);
  protected readonly texts = ingestTexts;

  readonly showId = input.required<string>();
  protected readonly status = this.store.selectSignal(showsFeature.selectStatus);
  protected readonly show = computed(() => this.shows()[this.showId()] ?? null);
  protected readonly canAdd = computed(() => {
    const inputs = this.state.inputs();
    return inputs !== null && inputs.length < MOST_INPUTS && this.show()?.archivedAtMs === null;
  });
  protected readonly programme = computed(() => {
    const taken = this.state.taken();
    if (!taken) return ingestTexts.desk;
    return this.state.isOn() ? ingestTexts.isProgramme(taken.name) : ingestTexts.comesOn(taken.name);
  });

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() => this.state.open(showId));
    });
  }

  protected add(): void {
    const count = this.state.inputs()?.length ?? 0;
    const name = count === 0 ? ingestTexts.firstName : ingestTexts.nameOf(count + 1);
    this.state.put(crypto.randomUUID(), {
      name,
      transport: 'rtmp',
      second: 'refused',
      onArrival: 'waits',
      isStanding: false,
    });
  }
}
