import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { addDays, wallTimeAt, weekOf } from '@juncta/core/schedule';
import { phaseAt } from '@juncta/core/shows';
import type { Show } from '@juncta/contract/shows';
import { Store } from '@ngrx/store';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { Key } from '../look/key';
import { StateMark, type MarkedState } from '../look/state-mark';
import { teamFeature } from '../team/team.feature';
import { showsFeature } from './shows.feature';
import { phaseNames, seasonTexts } from './shows.texts';

const WEEKS = 6;
/** Noon keeps a date the same whichever way clocks move that day. */
const NOON = 'T12:00Z';

interface PlacedShow {
  readonly show: Show;
  readonly time: string;
  readonly series: string;
  readonly state: MarkedState;
  readonly word: string;
}

/** Weeks as rows, days as columns: where shows are thick and where there is room. */
@Component({
  selector: 'jn-season-page',
  imports: [Key, RouterLink, StateMark],
  templateUrl: './season.page.html',
  styleUrl: './season.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SeasonPage {
  private readonly store = inject(Store);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  protected readonly texts = seasonTexts;
  protected readonly may = this.store.selectSignal(teamFeature.selectMay);
  private readonly shows = this.store.selectSignal(showsFeature.selectAll);
  private readonly series = this.store.selectSignal(showsFeature.selectSeries);

  /** Weeks away from this one at which the page begins. */
  protected readonly offset = signal(0);
  private readonly minuteMs = computed(() => Math.floor(this.clock.nowMs() / 60_000) * 60_000);
  private readonly today = computed(() => wallTimeAt(this.minuteMs(), this.format.ownZone).slice(0, 10));

  private readonly byDay = computed(() => {
    const days = new Map<string, PlacedShow[]>();
    for (const show of this.shows()) {
      if (show.startsAtMs === null || show.archivedAtMs !== null) continue;
      const day = wallTimeAt(show.startsAtMs, this.format.ownZone).slice(0, 10);
      days.set(day, [...(days.get(day) ?? []), this.place(show)]);
    }
    for (const list of days.values()) list.sort((a, b) => a.show.startsAtMs! - b.show.startsAtMs!);
    return days;
  });

  protected readonly weeks = computed(() => {
    const monday = addDays(weekOf(this.minuteMs(), this.format.ownZone), this.offset() * 7);
    return Array.from({ length: WEEKS }, (_, w) =>
      Array.from({ length: 7 }, (_day, d) => {
        const date = addDays(monday, w * 7 + d);
        return {
          date,
          name: this.format.shortDay(Date.parse(date + NOON), 'UTC'),
          isToday: date === this.today(),
          isPast: date < this.today(),
          shows: this.byDay().get(date) ?? [],
        };
      }),
    );
  });
  protected readonly weekdays = computed(() =>
    this.weeks()[0]!.map(({ date }) =>
      new Intl.DateTimeFormat('en', { weekday: 'short', timeZone: 'UTC' }).format(Date.parse(date + NOON)),
    ),
  );
  protected readonly undated = computed(() =>
    this.shows()
      .filter((show) => show.startsAtMs === null && show.archivedAtMs === null)
      .map((show) => this.place(show)),
  );

  private place(show: Show): PlacedShow {
    const { phase, overdue } = phaseAt(show, this.minuteMs());
    const state = overdue ? 'overdue' : phase;
    return {
      show,
      time: show.startsAtMs === null ? '' : this.format.time(show.startsAtMs),
      series: this.series().find(({ id }) => id === show.text.seriesId)?.name ?? '',
      state: `phase.${state}`,
      word: phaseNames[state],
    };
  }
}
