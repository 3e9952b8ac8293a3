import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Show } from '@juncta/contract/shows';
import { phaseAt } from '@juncta/core/shows';
import { formatShowTime } from '@juncta/core/programme';
import { PageClock } from '../../clock/page-clock';
import { StateMark, type MarkedState } from '../../look/state-mark';
import { TimeFigure } from '../../look/time/time-figure';
import { phaseNames, showNowTexts } from '../shows.texts';

/** The state of a show as it is now. */
export function stateOf(show: Show, nowMs: number): MarkedState {
  const { phase, overdue } = phaseAt(show, nowMs);
  return overdue ? 'phase.overdue' : `phase.${phase}`;
}

/** A show's state, how long it is to its start or how long it runs, and the time of day; for headers. */
@Component({
  selector: 'jn-show-now',
  imports: [StateMark, TimeFigure],
  template: `
    <jn-state [of]="state()" [word]="word()" />
    @if (toGo(); as toGo) {
      <div class="to-go" [class.late]="toGo.late">
        <span class="label">{{ toGo.label }}</span>
        <span class="figure" role="timer">{{ toGo.text }}</span>
      </div>
    }
    <jn-time-figure [atMs]="nowMs()" [nowMs]="nowMs()" [withSeconds]="true" />
  `,
  styleUrl: './show-now.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShowNow {
  protected readonly nowMs = inject(PageClock).nowMs;

  readonly show = input.required<Show>();

  protected readonly state = computed(() => stateOf(this.show(), this.nowMs()));
  protected readonly word = computed(() => phaseNames[this.state().split('.')[1] as keyof typeof phaseNames]);
  /** To the planned start, as h:mm:ss; how late it is once that has gone by; how long it runs once it does. */
  protected readonly toGo = computed(() => {
    const { startsAtMs, startedAtMs, endedAtMs } = this.show();
    if (endedAtMs !== null) return null;
    if (startedAtMs !== null) {
      const text = formatShowTime(Math.max(0, this.nowMs() - startedAtMs));
      return { text, label: showNowTexts.running, late: false };
    }
    if (startsAtMs === null) return null;
    const ahead = startsAtMs - this.nowMs();
    const label = ahead < 0 ? showNowTexts.late : showNowTexts.toGo;
    return { text: formatShowTime(Math.abs(ahead)), label, late: ahead < 0 };
  });
}
