import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  type TemplateRef,
  viewChild,
} from '@angular/core';
import type { Destination } from '@juncta/contract/destinations';
import type { ErrorBody } from '@juncta/contract/errors';
import { readIncident, setDelay } from '@juncta/contract/programme';
import type { ProgrammeReport, RenditionReport } from '@juncta/contract/relay';
import { forecastDisk } from '@juncta/core/recordings';
import type { Show } from '@juncta/contract/shows';
import { offPlanMs } from '@juncta/core/shows';
import { formatShowTime } from '@juncta/core/programme';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { DrillPanel } from '../drill/drill-panel';
import { fileName, saveFile } from '../formats/save-file';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { Key } from '../look/keys/key';
import { ArmedKey } from '../look/keys/armed-key';
import { Notice } from '../look/notice';
import { Tile } from '../look/tile';
import { teamFeature } from '../team/team.feature';
import { RecordingsList } from '../recordings/recordings-list';
import { FeedRow } from './feed-row';
import { feedRow } from './feed-rows';
import { FeedSheet } from './feed-sheet';
import { OffPlan, type OffPlanAnswer } from '../programme/off-plan';
import { OverPanel } from '../programme/over-panel';
import { ProgrammeActions } from '../programme/programme.actions';
import { listingsFeature } from '../listings/listings.feature';
import { programmeFeature } from '../programme/programme.feature';
import { PictureFormatChoice } from '../stage/picture-format/picture-format';
import { UploadCheck } from '../uplink/upload-check';
import { feedSheetTexts, feedTexts } from './feeds.texts';

/** Offered; any up to a minute can be set. */
const DELAYS_S = [0, 5, 10, 20, 30, 60];
const MINUTE = 60_000;
/** Of one core. */
const LOAD_TOLD_PERCENT = 60;
/** Video and audio together, before the relay has measured anything. */
const USUAL_KBPS = 4160;

/** The board of feeds on the desk: a row for each destination, what it does and how it is started and ended. */
@Component({
  selector: 'jn-feeds-panel',
  imports: [
    ArmedKey,
    DrillPanel,
    FeedRow,
    FeedSheet,
    Key,
    Notice,
    OverPanel,
    RecordingsList,
    Tile,
    PictureFormatChoice,
    UploadCheck,
  ],
  templateUrl: './feeds-panel.html',
  styleUrl: './feeds-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FeedsPanel {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly modals = inject(NgbModal);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  private readonly sheet = viewChild.required<TemplateRef<unknown>>('sheet');
  private readonly overPanel = viewChild(OverPanel);
  private readonly drill = viewChild(DrillPanel);
  private readonly ending = viewChild.required<TemplateRef<unknown>>('ending');
  protected readonly sheetTexts = feedSheetTexts;
  protected readonly texts = feedTexts;

  constructor() {
    // Only once it has ended here: a page that opens on a show that is over starts at its top.
    let before: boolean | null = null;
    effect(() => {
      const over = this.over();
      const panel = this.overPanel();
      if (over && !panel) return;
      if (before === false && over) panel?.focus();
      before = over;
    });
  }

  readonly show = input.required<Show>();
  /** Viewers see the slate. */
  readonly covered = input.required<boolean>();
  readonly none = input.required<string>();

  protected readonly showId = computed(() => this.show().id);
  protected readonly over = computed(() => this.show().endedAtMs !== null);
  /** A show that is over is to go on air once more: that was asked for. */
  protected readonly again = linkedSignal({ source: this.over, computation: () => false });
  /** It would begin on another day or at another hour than planned. */
  protected readonly offPlan = computed(() => offPlanMs(this.show(), this.clock.nowMs()) !== null);
  protected readonly status = this.store.selectSignal(programmeFeature.selectStatus);
  protected readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);
  protected readonly recordings = this.store.selectSignal(programmeFeature.selectRecordings);
  protected readonly busy = this.store.selectSignal(programmeFeature.selectBusy);
  protected readonly insisting = this.store.selectSignal(programmeFeature.selectInsisting);
  protected readonly error = this.store.selectSignal(programmeFeature.selectError);
  private readonly listings = this.store.selectSignal(listingsFeature.selectListings);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);

  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayRun = computed(() => this.may()('show.run'));
  protected readonly hasVideo = computed(() => (this.programme()?.state ?? 'waiting') !== 'waiting');
  protected readonly rows = computed(() =>
    this.destinations().map((destination, place) => {
      const listing = this.listings().find(({ destinationId }) => destinationId === destination.id);
      const feed = this.programme()?.feeds.find(({ destinationId }) => destinationId === destination.id);
      return feedRow({
        destination,
        label: this.labelOf(destination),
        listing: listing ?? null,
        feed,
        rendition: this.renditionOf(destination.id),
        place,
        covered: this.covered(),
        houseMs: this.clock.nowMs(),
        distance: (atMs, nowMs) => this.format.distance(atMs, nowMs),
      });
    }),
  );
  private renditionOf(id: string): RenditionReport | null {
    const { renditions = [] } = this.programme() ?? {};
    return renditions.find(({ destinationIds }) => destinationIds.includes(id)) ?? null;
  }

  /** The place says it, unless the show goes to two channels there. */
  private labelOf({ kind, name, rules: { place } }: Destination): string {
    const there = this.destinations().filter(({ rules }) => rules.place === place);
    return there.length === 1 && kind !== 'custom_rtmp' ? place : name;
  }

  protected readonly off = computed(() =>
    this.rows().flatMap(({ destination, underWay }) => (underWay ? [] : [destination.id])),
  );
  protected readonly places = this.destinations;
  /** While the relay is away, what it said last holds: it may be away because of the drill. */
  protected readonly drilled = linkedSignal<ProgrammeReport | null, boolean>({
    source: this.programme,
    computation: (programme, before) => programme?.isDrilled ?? before?.value ?? false,
  });
  protected readonly delayS = computed(() => Math.round((this.programme()?.delayMs ?? 0) / 1000));
  protected readonly delays = computed(() =>
    [...new Set([...DELAYS_S, this.delayS()])].sort((a, b) => a - b),
  );
  protected readonly held = computed(() => this.rows().filter(({ held }) => held));
  protected readonly underWay = computed(() => this.rows().filter((row) => row.underWay));
  private readonly lookedId = signal<string | null>(null);
  protected readonly looked = computed(() =>
    this.rows().find(({ destination }) => destination.id === this.lookedId()),
  );
  /** None has been started: one press starts all. */
  protected readonly canStartAll = computed(
    () =>
      this.rows().length > 1 &&
      this.rows().every(({ underWay }) => !underWay) &&
      (!this.over() || this.again()),
  );
  protected readonly canDrill = computed(
    () => this.hasVideo() && this.showTime() === null && this.rows().length > 0,
  );
  /** It is settled with the first feed. */
  protected readonly mayDelay = computed(
    () => this.mayRun() && this.showTime() === null && (!this.over() || this.again()),
  );
  protected readonly showTime = computed(() => {
    const ms = this.programme()?.showTimeMs;
    return ms == null ? null : formatShowTime(ms);
  });
  /** Only once it is worth a thought. */
  protected readonly loadPercent = computed(() => {
    const load = this.programme()?.loadPercent ?? 0;
    return load >= LOAD_TOLD_PERCENT ? load : null;
  });
  /** What is to be said of the disk; null before it is known. */
  protected readonly disk = computed(() => {
    const programme = this.programme();
    if (!programme) return null;
    const { freeBytes, recording } = programme.disk;
    if (!recording) return { kind: 'wrong' as const, text: feedTexts.diskFull };
    if (freeBytes === null) return null;
    const gone = (programme.showTimeMs ?? 0) / MINUTE;
    const toCome = Math.max(0, this.show().text.plannedMinutes - gone);
    const { level, minutesLeft } = forecastDisk(freeBytes, USUAL_KBPS, toCome);
    if (!programme.disk.recording || level === 'none')
      return { kind: 'wrong' as const, text: feedTexts.diskFull };
    const time = formatShowTime(minutesLeft * MINUTE).replace(/:00$/, ' h');
    return level === 'short'
      ? { kind: 'look' as const, text: feedTexts.diskShort(time) }
      : { kind: 'know' as const, text: feedTexts.diskLeft(time) };
  });

  protected start(destinationId: string): void {
    this.store.dispatch(ProgrammeActions.startFeed({ showId: this.showId(), destinationId }));
  }

  protected startAll(): void {
    for (const destinationId of this.off()) this.start(destinationId);
  }

  /** Its day has not come, or has gone by: started it is only after a question, or drilled instead. */
  protected async askOffPlan(destinationIds: readonly string[]): Promise<void> {
    const { startsAtMs } = this.show();
    if (startsAtMs === null || this.modals.hasOpenModals()) return;
    const looks = { ariaLabelledBy: 'off-plan-title', windowClass: 'night', animation: false };
    const dialog = this.modals.open(OffPlan, looks);
    const names = this.rows().flatMap(({ destination: { id, name } }) =>
      destinationIds.includes(id) ? [name] : [],
    );
    (dialog.componentInstance as OffPlan).ask({
      startsAtMs,
      nowMs: this.clock.nowMs(),
      places: names,
      canDrill: this.canDrill(),
    });
    const answer = await (dialog.result as Promise<OffPlanAnswer>).catch(() => null);
    if (answer === 'drill') this.drill()?.begin();
    if (answer === 'air') for (const destinationId of destinationIds) this.start(destinationId);
  }

  protected holdBack(seconds: string): void {
    const params = { showId: this.showId() };
    this.api.call(setDelay, { params, body: { delayS: Number(seconds) } }).subscribe({
      next: () => this.store.dispatch(ProgrammeActions.stale()),
      error: (error: ErrorBody) => this.store.dispatch(ProgrammeActions.refused({ error })),
    });
  }

  /** Everything that is known, in one file, for whoever has to find out what went wrong. */
  protected saveIncident(): void {
    this.api.call(readIncident, { params: { showId: this.showId() } }).subscribe({
      next: (incident) => {
        const name = `${fileName(`${incident.show.title} ${new Date(incident.madeAtMs).toISOString()}`)}.json`;
        saveFile(name, 'application/json', JSON.stringify(incident, null, 1));
      },
      error: (error: ErrorBody) => this.store.dispatch(ProgrammeActions.refused({ error })),
    });
  }

  protected publishAll(): void {
    for (const { destination } of this.held()) this.publish(destination.id);
  }

  /** Opens the sheet of one feed. */
  protected look(destinationId: string): void {
    this.lookedId.set(destinationId);
    this.modals.open(this.sheet(), {
      ariaLabelledBy: 'sheet-title',
      size: 'lg',
      windowClass: 'night',
      animation: false,
    });
  }

  /** Says what the end does at each place, and asks. */
  askToEnd(): void {
    if (this.modals.hasOpenModals()) return;
    this.modals.open(this.ending(), {
      ariaLabelledBy: 'ending-title',
      windowClass: 'night',
      animation: false,
    });
  }

  protected publish(destinationId: string): void {
    this.store.dispatch(ProgrammeActions.publishFeed({ showId: this.showId(), destinationId }));
  }

  protected end(destinationId: string): void {
    // Its key goes: the keyboard stays at the feed.
    const name = this.element.nativeElement.querySelector<HTMLElement>(`[data-feed="${destinationId}"]`);
    name?.focus();
    this.store.dispatch(ProgrammeActions.stopFeed({ showId: this.showId(), destinationId }));
  }

  protected endShow(): void {
    this.store.dispatch(ProgrammeActions.endShow({ showId: this.showId() }));
  }
}
