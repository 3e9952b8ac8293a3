import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
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
import { type FeedReport, type ProgrammeReport } from '@juncta/contract/relay';
import { feedDeadline, isUnderWay } from '@juncta/core/feeds';
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
import { Keyboard } from '../keyboard/keyboard';
import { Key } from '../look/keys/key';
import { ArmedKey } from '../look/keys/armed-key';
import { feedStateNames } from '../look/look.texts';
import { Notice } from '../look/notice';
import { StateMark } from '../look/state-mark';
import { Tile } from '../look/tile';
import { teamFeature } from '../team/team.feature';
import { RecordingsList } from '../recordings/recordings-list';
import { endEffectOf, FeedSheet } from './feed-sheet';
import { OffPlan, type OffPlanAnswer } from '../programme/off-plan';
import { OverPanel } from '../programme/over-panel';
import { ProgrammeActions } from '../programme/programme.actions';
import { listingsFeature } from '../listings/listings.feature';
import { programmeFeature } from '../programme/programme.feature';
import { PictureFormatChoice } from '../stage/picture-format/picture-format';
import { UploadCheck } from '../uplink/upload-check';
import { coveredFeed, feedReasons, feedSentences, feedSheetTexts, feedTexts } from './feeds.texts';

/** Offered; any up to a minute can be set. */
const DELAYS_S = [0, 5, 10, 20, 30, 60];
const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
/** That an event will lapse concerns nobody a day before. */
const LAPSE_TOLD_MS = 2 * HOUR;
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
    FeedSheet,
    Key,
    Notice,
    OverPanel,
    RecordingsList,
    StateMark,
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
    const end = {
      keys: ['Shift+E'],
      act: () => this.askToEnd(),
      isOn: () => !this.busy() && this.showTime() !== null && this.mayRun(),
    };
    inject(DestroyRef).onDestroy(inject(Keyboard).add(end));
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
      const state = feed?.state ?? 'off';
      return {
        destination,
        label: this.labelOf(destination),
        listing: listing ?? null,
        state,
        endSentence: feedSheetTexts.end[endEffectOf(destination, listing ?? null)],
        deadline: this.deadlineOf(feed, listing?.bookedSlotMs ?? null, destination),
        shortcut: place < 9 ? `Shift+${place + 1}` : null,
        // A key of its own: whoever starts a feed with one press too many must not end it.
        endShortcut: place < 9 ? `Alt+Shift+${place + 1}` : null,
        pageUrl: listing?.pageUrl ?? destination.pageUrl,
        viewers: isUnderWay(state) ? (listing?.viewers ?? null) : null,
        behindS: listing?.delayS ?? null,
        behindIsMeasured: listing?.delayFrom === 'measured',
        held: state === 'held' && destination.rules.capabilities.goingPublic === 'by_api',
        ending: listing?.state === 'ending',
        ...toldOf(feed, this.covered()),
        underWay: isUnderWay(state),
        onAir: feed?.onAirMs == null ? null : formatShowTime(feed.onAirMs),
        kbps: feed?.bitrateKbps ?? null,
        leftOut: feed?.leftOutFrames ?? 0,
      };
    }),
  );
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

  protected askToEnd(): void {
    if (this.modals.hasOpenModals()) return;
    this.modals.open(this.ending(), {
      ariaLabelledBy: 'ending-title',
      windowClass: 'night',
      animation: false,
    });
  }

  /** What the place does next by itself, counted down; null: nothing that we know of. */
  private deadlineOf(
    feed: FeedReport | undefined,
    bookedSlotMs: number | null,
    { rules }: Destination,
  ): string | null {
    // Slots go by the house's clock, which a rehearsal moves; feeds by the world's.
    const houseMs = this.clock.nowMs();
    const nowMs = !feed || feed.state === 'off' || feed.state === 'dialling' ? houseMs : Date.now();
    const deadline = feedDeadline(feed ?? null, bookedSlotMs, rules.capabilities, nowMs);
    if (!deadline) return null;
    const leftMs = deadline.atMs - nowMs;
    if (leftMs < 0) return feedSheetTexts.overdue[deadline.kind];
    if (deadline.kind === 'lapse' && leftMs > LAPSE_TOLD_MS) return null;
    const left = leftMs < HOUR ? formatShowTime(leftMs) : this.format.distance(deadline.atMs, nowMs);
    return feedSheetTexts.deadlines[deadline.kind](left);
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

/** What a row says of its feed. A place that has the slate is on air with nothing of the show. */
function toldOf(feed: FeedReport | undefined, covered: boolean) {
  const state = feed?.state ?? 'off';
  if (covered && (state === 'on_air' || state === 'sending'))
    return { mark: 'feed.covered' as const, word: coveredFeed.word, sentence: coveredFeed.text };
  return { mark: `feed.${state}` as const, word: feedStateNames[state], sentence: sentenceOf(feed) };
}

function sentenceOf(feed: FeedReport | undefined): string {
  if (!feed) return feedSentences.off;
  const own = feed.reason ? feedReasons[feed.reason] : feedSentences[feed.state];
  const attempt = feed.attempt > 1 && isUnderWay(feed.state) ? ` (${feedTexts.attempt(feed.attempt)})` : '';
  return `${own}${attempt}${feed.placeSays ? ` ${feedTexts.placeSays(feed.placeSays)}` : ''}`;
}
