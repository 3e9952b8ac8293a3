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
import { readFigures, type ListingFigures } from '@juncta/contract/listings';
import { formatShowTime } from '@juncta/core/programme';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { Tile } from '../look/tile';
import { listingsFeature } from '../listings/listings.feature';
import { figureTexts } from './feeds.texts';

/** What became of a show at each of its destinations. */
@Component({
  selector: 'jn-show-figures',
  imports: [Tile],
  template: `
    @if (rows().length > 0) {
      <table class="board">
        <caption class="label">
          {{
            texts.figures
          }}
        </caption>
        <thead>
          <tr>
            <th scope="col">{{ texts.figuresPlace }}</th>
            <th scope="col">{{ texts.figuresOnAir }}</th>
            <th scope="col">{{ texts.figuresMost }}</th>
            <th scope="col">{{ texts.figuresMessages }}</th>
          </tr>
        </thead>
        <tbody>
          @for (row of rows(); track row.destination.id) {
            <tr>
              <th scope="row">
                <jn-tile
                  [code]="row.destination.code"
                  [pattern]="row.destination.pattern"
                  [name]="row.destination.name"
                />
              </th>
              <td class="figure">{{ row.onAir }}</td>
              <td class="figure">{{ row.figures.mostViewers ?? '–' }}</td>
              <td class="figure">{{ row.figures.messages }}</td>
            </tr>
          }
        </tbody>
      </table>
    }
  `,
  styles: `
    table {
      margin-bottom: var(--space-3);
    }
    th,
    td {
      padding: 0.35rem 0.5rem;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShowFigures {
  private readonly api = inject(Api);
  protected readonly texts = figureTexts;
  readonly showId = input.required<string>();
  private readonly destinations = inject(Store).selectSignal(listingsFeature.selectDestinations);
  private readonly figures = signal<readonly ListingFigures[]>([]);
  protected readonly rows = computed(() =>
    this.figures().flatMap((figures) => {
      const destination = this.destinations().find(({ id }) => id === figures.destinationId);
      const onAir = figures.onAirMs === null ? '–' : formatShowTime(figures.onAirMs);
      return destination ? { figures, destination, onAir } : [];
    }),
  );

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() =>
        this.api.call(readFigures, { params: { showId } }).subscribe({
          next: ({ figures }) => this.figures.set(figures),
          // The page says why nothing answers; figures are not worth a second word.
          error: () => this.figures.set([]),
        }),
      );
    });
  }
}
