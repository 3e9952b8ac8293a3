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
import { RouterLink } from '@angular/router';
import { readLaunchTicks, tickLaunchItem, type LaunchTick } from '@juncta/contract/listings';
import { launchSheet, type LaunchItem } from '@juncta/core/readiness';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { fileName, saveFile } from '../formats/save-file';
import { fieldName } from '../listings/listings.texts';
import { ShowListings } from '../listings/show-listings';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { Tile } from '../look/tile';
import { PageTitle } from '../shell/page-title';
import { teamFeature } from '../team/team.feature';
import { launchSentence, launchTexts } from './readiness.texts';

/** Everything that has to happen for a show, by machine and by hand, in order of time. */
@Component({
  selector: 'jn-launch-sheet-page',
  imports: [Key, Notice, RouterLink, Tile],
  templateUrl: './launch-sheet.page.html',
  styleUrl: './launch-sheet.page.scss',
  providers: [ShowListings],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LaunchSheetPage {
  private readonly api = inject(Api);
  private readonly format = inject(TimeFormat);
  private readonly title = inject(PageTitle);
  protected readonly clock = inject(PageClock);
  protected readonly state = inject(ShowListings);
  protected readonly texts = launchTexts;

  readonly showId = input.required<string>();
  private readonly may = inject(Store).selectSignal(teamFeature.selectMay);
  protected readonly mayTick = computed(() => this.may()('desk.open'));
  private readonly ticks = signal<readonly LaunchTick[]>([]);
  protected readonly request = new RequestState();

  protected readonly items = computed(() => {
    const broadcast = this.state.broadcast();
    const now = this.clock.nowMs();
    return broadcast ? launchSheet(broadcast, now).map((item) => this.shown(item, now)) : [];
  });

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() => {
        this.state.open(showId);
        this.request.run(this.api.call(readLaunchTicks, { params: { showId } }), ({ ticks }) =>
          this.ticks.set(ticks),
        );
      });
    });
    effect(() => {
      const show = this.state.show();
      if (show) this.title.set(show.text.title);
    });
  }

  protected tick(itemId: string, done: boolean): void {
    const params = { showId: this.showId() };
    this.request.run(this.api.call(tickLaunchItem, { params, body: { itemId, done } }), ({ ticks }) => {
      this.ticks.set(ticks);
    });
  }

  /** What is still to do by hand, for somebody's own calendar. */
  protected async saveCalendar(): Promise<void> {
    const show = this.state.show()!;
    const { launchCalendar } = await import('../formats/launch-calendar');
    const lines = this.items()
      .filter(({ item, done }) => item.by === 'hand' && !done)
      .map(({ item, what, by }) => ({ id: item.id, what, by, dueMs: item.dueMs }));
    const about = { id: show.id, title: show.text.title, url: globalThis.location.href };
    const text = launchCalendar(about, lines, this.clock.nowMs());
    saveFile(`${fileName(show.text.title)}.ics`, 'text/calendar', text);
  }

  protected print(): void {
    globalThis.print();
  }

  private shown(item: LaunchItem, nowMs: number) {
    const row = this.state.rows().find(({ destination }) => destination.id === item.destinationId);
    const tick = this.ticks().find(({ itemId }) => itemId === item.id) ?? null;
    const field = item.setting === null ? '' : fieldName(item.setting);
    const what = launchSentence(item, {
      place: row?.destination.rules.place ?? '',
      field,
      when: '',
      desk: '',
    });
    const done = item.done || tick !== null;
    return {
      item,
      what,
      by:
        item.step === 'lapse'
          ? launchTexts.place
          : item.by === 'machine'
            ? launchTexts.machine
            : launchTexts.somebody,
      done,
      tile: row?.destination ?? null,
      due: `${this.format.day(item.dueMs, nowMs)} ${this.format.time(item.dueMs)}`,
      left: this.format.distance(item.dueMs, nowMs),
      late: !done && item.step !== 'lapse' && item.dueMs < nowMs,
      tickedBy: tick && launchTexts.tickedBy(tick.by ?? '', this.format.time(tick.atMs)),
    };
  }
}
