import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { addDays, occurrences, wallTimeAt, weekOf, type ZonedStart } from '@juncta/core/schedule';
import { phaseAt } from '@juncta/core/shows';
import { createShow, makeNextShow, type Series, type Show } from '@juncta/contract/shows';
import { Store } from '@ngrx/store';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { StateMark, type MarkedState } from '../../look/state-mark';
import { teamFeature } from '../../team/team.feature';
import { SeriesPanel } from '../series/series-panel';
import { ShowsActions } from '../shows.actions';
import { showsFeature } from '../shows.feature';
import { phaseNames, seasonTexts } from '../shows.texts';

const WEEKS = 6;
const DAY_MS = 24 * 3_600_000;
const dayOf = (ms: number, zone: string) => wallTimeAt(ms, zone).slice(0, 10);
/** Noon keeps a date the same whichever way clocks move that day. */
const NOON = 'T12:00Z';

interface PlacedShow {
  readonly show: Show;
  readonly time: string;
  readonly series: string;
  readonly state: MarkedState;
  readonly word: string;
}

/** A date of a series that no show has yet. */
interface FreeDate {
  readonly series: Series;
  readonly start: ZonedStart;
  readonly atMs: number;
  readonly time: string;
}

const DEFAULT_MINUTES = 60;

/** Weeks as rows, days as columns: where shows are thick and where there is room. */
@Component({
  selector: 'jn-season-page',
  imports: [Key, Notice, RouterLink, SeriesPanel, StateMark],
  templateUrl: './season.page.html',
  styleUrl: './season.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SeasonPage {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly store = inject(Store);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  protected readonly texts = seasonTexts;
  protected readonly may = this.store.selectSignal(teamFeature.selectMay);
  private readonly shows = this.store.selectSignal(showsFeature.selectAll);
  protected readonly series = this.store.selectSignal(showsFeature.selectSeries);

  protected readonly making = signal(false);
  protected readonly request = new RequestState();

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

  private readonly monday = computed(() =>
    addDays(weekOf(this.minuteMs(), this.format.ownZone), this.offset() * 7),
  );
  /** Dates of series still to come that no show has. */
  private readonly freeDays = computed(() => {
    const days = new Map<string, FreeDate[]>();
    const fromMs = Math.max(this.minuteMs(), Date.parse(this.monday() + NOON) - DAY_MS);
    const toMs = Date.parse(addDays(this.monday(), WEEKS * 7) + NOON);
    if (toMs <= fromMs) return days;
    for (const series of this.series()) {
      if (!series.recurrence) continue;
      const taken = this.shows()
        .filter(({ text, archivedAtMs }) => text.seriesId === series.id && archivedAtMs === null)
        .map(({ startsAtMs }) =>
          startsAtMs === null ? '' : dayOf(startsAtMs, series.recurrence!.start.zone),
        );
      for (const { start, atMs } of occurrences(series.recurrence, fromMs, toMs)) {
        // A show that was moved within its day is that day's all the same.
        if (atMs === null || taken.includes(start.local.slice(0, 10))) continue;
        const day = dayOf(atMs, this.format.ownZone);
        const free = { series, start, atMs, time: this.format.time(atMs) };
        days.set(day, [...(days.get(day) ?? []), free]);
      }
    }
    return days;
  });

  protected readonly weeks = computed(() => {
    const monday = this.monday();
    return Array.from({ length: WEEKS }, (_, w) =>
      Array.from({ length: 7 }, (_day, d) => {
        const date = addDays(monday, w * 7 + d);
        return {
          date,
          name: this.format.shortDay(Date.parse(date + NOON), 'UTC'),
          isToday: date === this.today(),
          isPast: date < this.today(),
          shows: this.byDay().get(date) ?? [],
          free: this.freeDays().get(date) ?? [],
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

  /** The one to make the next from: the last by its start, or one without. */
  protected latestOf(seriesId: string): Show | null {
    const ofSeries = this.shows().filter(
      (show) => show.text.seriesId === seriesId && show.archivedAtMs === null,
    );
    return ofSeries.sort((a, b) => (b.startsAtMs ?? 0) - (a.startsAtMs ?? 0))[0] ?? null;
  }

  /** Makes the show of a free date: from the series' latest, or a blank one. */
  protected plan({ series, start }: FreeDate): void {
    this.making.set(true);
    const latest = this.latestOf(series.id);
    const id = crypto.randomUUID();
    const make = (made: Observable<Show>) =>
      this.request.run(
        made,
        (show) => {
          this.store.dispatch(ShowsActions.showSaved({ show }));
          void this.router.navigate(['/shows', show.id]);
        },
        () => this.making.set(false),
      );
    if (latest) {
      const next = this.api.call(makeNextShow, { params: { showId: latest.id }, body: { id, start } });
      make(next.pipe(map(({ show }) => show)));
      return;
    }
    const text = {
      title: series.name,
      description: '',
      seriesId: series.id,
      start,
      plannedMinutes: DEFAULT_MINUTES,
      people: [],
    };
    make(this.api.call(createShow, { body: { id, text } }));
  }

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
