import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { PlannedReadiness, type RuleChange } from '../../readiness/planned-readiness';
import { ReadinessList } from '../../readiness/readiness-list';
import { houseRulesTexts } from './house-rules.texts';

/** So many are named; a figure that stops everything is not told show by show. */
const MOST_NAMED = 8;

/** Which shows ahead a corrected figure would hold up, and how: told before it is kept. */
@Component({
  selector: 'jn-touched-shows',
  imports: [ReadinessList, RouterLink],
  template: `
    <p role="status">{{ sentence() }}</p>
    <ul class="plain">
      @for (one of named(); track one.show.id) {
        <li>
          <p>
            <a [routerLink]="['/shows', one.show.id, 'listings']">{{ one.show.text.title }}</a>&ngsp;<span
              class="soft"
              >{{ starts(one.show.startsAtMs) }}</span
            >
          </p>
          <jn-readiness-list [findings]="one.findings" [destinations]="readiness.destinations()" />
        </li>
      }
    </ul>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      margin-top: var(--space-2);
    }
    p {
      margin: 0;
    }
    li + li {
      margin-top: var(--space-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TouchedShows {
  protected readonly readiness = inject(PlannedReadiness);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);

  readonly change = input.required<RuleChange>();

  private readonly touched = computed(() => this.readiness.touchedBy(this.change(), this.clock.now()));
  protected readonly named = computed(() => (this.touched() ?? []).slice(0, MOST_NAMED));
  protected readonly sentence = computed(() => {
    const touched = this.touched();
    if (touched === null) return houseRulesTexts.looking;
    const { figure } = this.change();
    if (touched.length === 0) return houseRulesTexts.touchesNone(figure);
    return houseRulesTexts.touches(figure, touched.length, touched.length - this.named().length);
  });

  protected starts(atMs: number | null): string {
    if (atMs === null) return '';
    return `${this.format.day(atMs, this.clock.now())} ${this.format.time(atMs)}`;
  }
}
