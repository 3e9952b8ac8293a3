import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input } from '@angular/core';
import type { Destination } from '@juncta/contract/destinations';
import { Router, RouterLink } from '@angular/router';
import { TimeFormat } from '../../clock/time-format';
import { Keyboard } from '../../keyboard/keyboard';
import { Key } from '../../look/keys/key';
import { StateMark } from '../../look/state-mark';
import { TimeFigure } from '../../look/time/time-figure';
import { ReadinessList } from '../../readiness/readiness-list';
import { FindingsList } from '../plan/findings-list';
import type { ShowRow } from './show-row';
import { boardTexts, partNames } from '../shows.texts';

/** Beside the board: the chosen show, enough of it to know what to do next. */
@Component({
  selector: 'jn-chosen-show',
  imports: [FindingsList, Key, ReadinessList, RouterLink, StateMark, TimeFigure],
  templateUrl: './chosen-show.html',
  styleUrl: './chosen-show.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChosenShow {
  protected readonly format = inject(TimeFormat);
  protected readonly texts = boardTexts;
  protected readonly partNames = partNames;

  readonly destinations = input.required<readonly Destination[]>();
  readonly row = input.required<ShowRow>();
  readonly nowMs = input.required<number>();

  protected readonly show = computed(() => this.row().show);
  protected readonly over = computed(() => this.show().endedAtMs !== null);
  protected readonly length = computed(() => {
    const { startedAtMs, endedAtMs, text } = this.show();
    return startedAtMs !== null && endedAtMs !== null
      ? boardTexts.ranFor(this.format.length(Math.round((endedAtMs - startedAtMs) / 60_000)))
      : this.format.length(text.plannedMinutes);
  });

  constructor() {
    const router = inject(Router);
    // Between a row and these keys stand all the rows after it.
    const ways = inject(Keyboard).add(
      { keys: ['p'], act: () => void router.navigate(['/shows', this.show().id]) },
      {
        keys: ['d'],
        act: () => void router.navigate(['/desk', this.show().id]),
        isOn: () => !this.over(),
      },
    );
    inject(DestroyRef).onDestroy(ways);
  }
}
