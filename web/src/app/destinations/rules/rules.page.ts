import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { HouseDefaultsPanel } from '../../listings/settings/house-defaults-panel';
import { teamFeature } from '../../team/team.feature';
import { destinationTexts } from '../destinations.texts';
import { HouseRulesPanel } from './house-rules-panel';

/** What places allow as far as we know, and what the house wants wherever a place has it. */
@Component({
  selector: 'jn-rules-page',
  imports: [HouseDefaultsPanel, HouseRulesPanel, RouterLink],
  template: `
    <h1>{{ texts.rulesTitle }}</h1>
    <p class="soft">
      <a routerLink="/destinations">{{ texts.toDestinations }}</a>
    </p>
    <jn-house-rules-panel [mayCorrect]="may()('destinations.manage')" />
    <jn-house-defaults-panel [mayChange]="may()('destinations.manage')" />
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
export class RulesPage {
  protected readonly texts = destinationTexts;
  protected readonly may = inject(Store).selectSignal(teamFeature.selectMay);
}
