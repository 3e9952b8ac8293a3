import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { phaseAt, showFindings } from '@juncta/core/shows';
import type { Show } from '@juncta/contract/shows';
import { Store } from '@ngrx/store';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { ShowFileReader } from '../../formats/show-file-reader';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { StateMark } from '../../look/state-mark';
import { TimeLine, type LineMark } from '../../look/time/time-line';
import { isGrave } from '../../readiness/grave';
import { PlannedReadiness } from '../../readiness/planned-readiness';
import { teamFeature } from '../../team/team.feature';
import { ChosenShow } from './chosen-show';
import { plannedOf } from '../planned';
import type { ShowRow } from './show-row';
import { ShowsActions } from '../shows.actions';
import { showsFeature } from '../shows.feature';
import { boardTexts, phaseNames } from '../shows.texts';

const SECTIONS = ['coming', 'over', 'away'] as const;
type Section = (typeof SECTIONS)[number];

const DAY = 86_400_000;
/** The line reaches from yesterday to six weeks ahead. */
const LINE_BACK_MS = DAY;
const LINE_AHEAD_MS = 42 * DAY;

/** The board of all shows: the first page. */
@Component({
  selector: 'jn-shows-board-page',
  imports: [ChosenShow, Key, Notice, RouterLink, ShowFileReader, StateMark, TimeLine],
  templateUrl: './shows-board.page.html',
  styleUrl: './shows-board.page.scss',
  providers: [PlannedReadiness],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShowsBoardPage {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly clock = inject(PageClock);
  private readonly readiness = inject(PlannedReadiness);
  protected readonly destinations = this.readiness.destinations;
  protected readonly format = inject(TimeFormat);
  protected readonly texts = boardTexts;
  protected readonly sections = SECTIONS;

  protected readonly status = this.store.selectSignal(showsFeature.selectStatus);
  protected readonly error = this.store.selectSignal(showsFeature.selectError);
  protected readonly may = this.store.selectSignal(teamFeature.selectMay);
  private readonly shows = this.store.selectSignal(showsFeature.selectAll);
  private readonly planned = this.store.selectSignal(showsFeature.selectPlanned);
  private readonly series = this.store.selectSignal(showsFeature.selectSeries);

  protected readonly section = signal<Section>('coming');
  protected readonly search = signal('');
  private readonly wanted = signal<string | null>(null);
  /** To the minute: rows need not be made anew every second. */
  protected readonly nowMs = computed(() => Math.floor(this.clock.nowMs() / 1000) * 1000);
  private readonly minuteMs = computed(() => Math.floor(this.clock.nowMs() / 60_000) * 60_000);

  private readonly rows = computed(() => this.shows().map((show) => this.rowOf(show)));
  protected readonly counts = computed(() => {
    const count = (section: Section) => this.rows().filter((row) => sectionOf(row) === section).length;
    return { coming: count('coming'), over: count('over'), away: count('away') };
  });
  protected readonly board = computed(() => {
    const words = this.search().toLowerCase().split(/\s+/).filter(Boolean);
    const section = this.section();
    return this.rows()
      .filter((row) => sectionOf(row) === section && words.every((word) => textOf(row).includes(word)))
      .sort(section === 'coming' ? byStart : (a, b) => byStart(b, a));
  });
  protected readonly chosen = computed(
    () => this.board().find(({ show }) => show.id === this.wanted()) ?? this.board()[0] ?? null,
  );

  protected readonly lineFrom = computed(() => this.minuteMs() - LINE_BACK_MS);
  protected readonly lineTo = computed(() => this.minuteMs() + LINE_AHEAD_MS);
  protected readonly marks = computed((): LineMark[] =>
    this.rows()
      .filter(({ show }) => show.startsAtMs !== null && show.archivedAtMs === null)
      .map(({ show, state }) => ({
        id: show.id,
        atMs: show.startsAtMs!,
        lengthMs: show.text.plannedMinutes * 60_000,
        name: `${this.format.day(show.startsAtMs!, this.minuteMs())} ${this.format.time(show.startsAtMs!)}: ${show.text.title}`,
        state,
      })),
  );

  protected sectionName(section: Section): string {
    return { coming: boardTexts.coming, over: boardTexts.over, away: boardTexts.away }[section];
  }

  /** A dash: nothing, as far as anybody knows. */
  protected count({ findings, atPlaces }: ShowRow): string {
    if (atPlaces === null) return '…';
    return String(findings.length + atPlaces.length || '–');
  }

  protected emptyText(): string {
    if (this.search()) return boardTexts.emptyFound;
    const { emptyText, emptyOver, emptyAway } = boardTexts;
    return { coming: emptyText, over: emptyOver, away: emptyAway }[this.section()];
  }

  protected choose(id: string): void {
    this.wanted.set(id);
  }

  /** From the line every show can be chosen; the board turns to where it stands. */
  protected chooseOnLine(id: string): void {
    const row = this.rows().find(({ show }) => show.id === id);
    if (!row) return;
    this.search.set('');
    this.section.set(sectionOf(row));
    this.wanted.set(id);
  }

  protected open(id: string): void {
    void this.router.navigate(['/shows', id]);
  }

  protected again(): void {
    this.store.dispatch(ShowsActions.wanted());
  }

  private rowOf(show: Show): ShowRow {
    const now = this.minuteMs();
    const { phase, overdue } = phaseAt(show, now);
    const state = overdue ? 'overdue' : phase;
    return {
      show,
      state: `phase.${state}`,
      word: phaseNames[state],
      series: this.series().find(({ id }) => id === show.text.seriesId)?.name ?? '',
      findings: showFindings(plannedOf(show), this.planned(), now),
      atPlaces: this.readiness.of(show, now)?.filter(isGrave) ?? null,
    };
  }
}

function sectionOf({ show, state }: ShowRow): Section {
  if (show.archivedAtMs !== null) return 'away';
  return state === 'phase.wrap' ? 'over' : 'coming';
}

/** In order of the start; those without one last. */
function byStart(a: ShowRow, b: ShowRow): number {
  const [one, other] = [a.show.startsAtMs ?? Infinity, b.show.startsAtMs ?? Infinity];
  return one === other ? a.show.text.title.localeCompare(b.show.text.title) : one - other;
}

function textOf({ show, series }: ShowRow): string {
  return [show.text.title, series, ...show.text.people.map(({ name }) => name)].join('\n').toLowerCase();
}
