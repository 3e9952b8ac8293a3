import { ChangeDetectionStrategy, Component, inject, model } from '@angular/core';
import { ALL_SHOWS, type ShowScope } from '@juncta/contract/shows';
import { Store } from '@ngrx/store';
import { showsFeature } from '../shows.feature';
import { scopeTexts } from '../shows.texts';

/** What something of the house is for: all shows, or those of one series. Once on a page. */
@Component({
  selector: 'jn-scope-choice',
  template: `
    <label for="scope">{{ texts.for }}</label>
    <select #of id="scope" class="input" (change)="scope.set(of.value)">
      <option [value]="allShows" [selected]="scope() === allShows">{{ texts.allShows }}</option>
      @for (one of series(); track one.id) {
        <option [value]="one.id" [selected]="scope() === one.id">{{ one.name }}</option>
      }
    </select>
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: var(--space-3);
    }
    select {
      width: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'field' },
})
export class ScopeChoice {
  protected readonly texts = scopeTexts;
  protected readonly allShows = ALL_SHOWS;
  protected readonly series = inject(Store).selectSignal(showsFeature.selectSeries);

  readonly scope = model.required<ShowScope>();
}
