import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  signal,
  type TemplateRef,
  untracked,
  viewChild,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { Show } from '@juncta/contract/shows';
import { showFindings } from '@juncta/core/shows';
import { LAYOUTS, sourceId } from '@juncta/core/stage';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { EventFeed } from '../api/event-feed';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { Key } from '../look/keys/key';
import { TimeLine, type LineMark } from '../look/time/time-line';
import { shellTexts } from '../shell/shell.texts';
import { showsFeature } from '../shows/shows.feature';
import { FindingsList } from '../shows/plan/findings-list';
import { plannedOf } from '../shows/planned';
import { ShowNow, stateOf } from '../shows/plan/show-now';
import { showNowTexts } from '../shows/shows.texts';
import { ShowListings } from '../listings/show-listings';
import { isGrave } from '../readiness/grave';
import { ReadinessList } from '../readiness/readiness-list';
import { AlarmStrip } from '../programme/alarm-strip';
import { FeedsPanel } from '../feeds/feeds-panel';
import { MarksPanel } from '../marks/marks-panel';
import { ProgrammeActions } from '../programme/programme.actions';
import { listingsFeature } from '../listings/listings.feature';
import { programmeFeature } from '../programme/programme.feature';
import { ComposingDesk } from '../stage/composing-desk';
import { openedOf } from '../stage/dressed/show-drawing';
import { StandIns } from '../people/room/stand-ins';
import {
  ARM_KEY,
  COVER_CHORD,
  COVER_KEY,
  GRAPHICS_KEY,
  OWN_LAYOUT_KEY,
  LAYOUT_KEYS,
  MARK_KEY,
  NAMES_KEY,
  PEOPLE_KEYS,
  STAND_IN_KEY,
  TAKE_KEY,
} from '../stage/desk-keys';
import { GraphicsPanel } from '../stage/graphics/graphics-panel';
import { OpenPanel } from '../stage/open-panel';
import { LayoutPanel } from '../stage/own-layouts/layout-panel';
import { AdjustPanel } from '../stage/panels/adjust-panel';
import { PeoplePanel } from '../stage/panels/people-panel';
import { RoomSources } from '../stage/sources/room-sources';
import { ProgrammeMessages } from '../chat/programme/programme-messages';
import { ProgrammePanel } from '../stage/panels/programme-panel';
import { StageLink } from '../stage/stage-link';
import { stageTexts } from '../stage/stage.texts';
import { WhoComposes } from '../stage/who-composes';
import { teamFeature } from '../team/team.feature';
import { deskTexts } from './desk.texts';
import { Keyboard, type Shortcut } from '../keyboard/keyboard';
import { chatTexts } from '../chat/chat.texts';
import { ChatFiles } from '../chat/list/chat-files';
import { ForHost } from '../chat/questions/for-host';
import { NextQuestion } from '../chat/questions/next-question';
import { ChatPanel } from '../chat/list/chat-panel';
import { chatShortcuts } from '../chat/list/chat-shortcuts';
import { isUnderWay } from '@juncta/core/feeds';
import { planProgramme, whoGetsProgramme } from '@juncta/core/renditions';
import { EncodingMachineHere } from '../renditions/encoding-machine';
import { placesOf } from '../renditions/place-formats';

const MINUTE = 60_000;
/** The strip shows so much before and after the planned time. */
const LINE_BEFORE_MS = 60 * MINUTE;
const LINE_AFTER_MS = 30 * MINUTE;
/** Lines of what blocks; the plan has the rest. */
const MOST_MISSING = 2;

/** The desk: the live control view of one show. Everything on it has its place, whether it is there yet or not. */
@Component({
  selector: 'jn-desk-page',
  imports: [
    AdjustPanel,
    AlarmStrip,
    ChatFiles,
    ChatPanel,
    FeedsPanel,
    FindingsList,
    ForHost,
    GraphicsPanel,
    LayoutPanel,
    Key,
    MarksPanel,
    NextQuestion,
    PeoplePanel,
    ProgrammePanel,
    ReadinessList,
    RouterLink,
    ShowNow,
    TimeLine,
  ],
  templateUrl: './desk.page.html',
  styleUrl: './desk.page.scss',
  providers: [ShowListings],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'night' },
})
export class DeskPage {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly modal = inject(NgbModal);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly format = inject(TimeFormat);
  protected readonly clock = inject(PageClock);
  protected readonly connected = inject(EventFeed).connected;
  protected readonly texts = deskTexts;
  protected readonly lostText = shellTexts.lost;
  protected readonly stageTexts = stageTexts;
  protected readonly chatTexts = chatTexts;
  protected readonly composing = inject(ComposingDesk);
  private readonly stage = inject(StageLink);
  private readonly whoComposes = inject(WhoComposes);
  private readonly panel = inject(OpenPanel);
  /** One or none; another one begins afresh. */
  protected readonly adjusted = computed(() => {
    const open = this.panel.content();
    return open?.of === 'source' ? [open.source] : [];
  });
  /** What stands beside the programme where there is no room for both. */
  protected readonly side = signal<Side>('viewers');
  protected readonly sides = SIDES;
  protected readonly opened = computed(() => this.panel.content()?.of ?? null);
  private readonly standIns = inject(StandIns);

  readonly showId = input.required<string>();
  private readonly chat = viewChild(ChatPanel);
  private readonly marks = viewChild(MarksPanel);
  private readonly feeds = viewChild(FeedsPanel);
  private readonly keysDialog = viewChild.required<TemplateRef<unknown>>('keys');
  private readonly entities = this.store.selectSignal(showsFeature.selectEntities);
  protected readonly status = this.store.selectSignal(showsFeature.selectStatus);
  protected readonly show = computed(() => this.entities()[this.showId()] ?? null);
  protected readonly nowMs = this.clock.nowMs;
  private readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);
  /** Whoever composes hears it from the relay itself: the server may be away. */
  protected readonly covered = computed(() => {
    const told = this.composing.showId() === this.showId() ? this.composing.covered() : null;
    return told ?? this.programme()?.state === 'covered';
  });
  /** There is something to cover, and this desk may. */
  protected readonly canCover = computed(
    () => this.may()('show.run') && (this.programme()?.state ?? 'waiting') !== 'waiting',
  );
  private readonly may = this.store.selectSignal(teamFeature.selectMay);

  /** Something goes out, and this desk may end it: from the header, so that it is never out of sight. */
  protected readonly canEnd = computed(() => this.may()('show.run') && this.programme()?.showTimeMs != null);
  protected readonly busy = this.store.selectSignal(programmeFeature.selectBusy);

  private readonly listings = inject(ShowListings);
  private readonly planned = this.store.selectSignal(showsFeature.selectPlanned);
  /** What is grave about a show that is not on air yet, as on its plan: what blocks, and how much there is. */
  protected readonly missing = computed(() => {
    const show = this.show();
    if (show?.startedAtMs !== null || !this.listings.broadcast()) return null;
    const own = showFindings(plannedOf(show), this.planned(), this.nowMs()).filter(isGrave);
    const atPlaces = this.listings.findings().filter(isGrave);
    const all = [...own, ...atPlaces];
    if (all.length === 0) return null;
    // What blocks is said; of the rest that there is some: feeds come first here.
    const first = new Set(all.filter(({ level }) => level === 'block').slice(0, MOST_MISSING));
    return {
      count: all.length,
      own: own.filter((one) => first.has(one)),
      atPlaces: atPlaces.filter((one) => first.has(one)),
    };
  });
  protected readonly places = computed(() => this.listings.rows().map(({ destination }) => destination));
  protected readonly line = computed(() => {
    const show = this.show();
    const start = show?.startsAtMs;
    if (!show || start == null) return null;
    const lengthMs = show.text.plannedMinutes * MINUTE;
    const [from, to] = [this.format.time(start), this.format.time(start + lengthMs)];
    const running = show.startedAtMs === null ? null : runningMark(show, this.nowMs());
    const mark: LineMark = {
      id: show.id,
      atMs: start,
      lengthMs,
      name: deskTexts.planned(from, to),
      // Red is for what is on air: beside it the plan stays a plan.
      state: running ? 'phase.plan' : stateOf(show, this.nowMs()),
    };
    // Wide enough for now, up to a day away from the start; beyond that the line is of the show alone.
    const near = Math.abs(this.nowMs() - start) < 24 * 60 * MINUTE;
    return {
      fromMs: Math.min(start - LINE_BEFORE_MS, near ? this.nowMs() - LINE_AFTER_MS : Infinity),
      toMs: Math.max(start + lengthMs + LINE_AFTER_MS, near ? this.nowMs() + LINE_AFTER_MS : -Infinity),
      marks: running ? [mark, running] : [mark],
    };
  });

  protected readonly keyboard = inject(Keyboard);

  constructor() {
    inject(DestroyRef).onDestroy(this.keyboard.add(...this.shortcuts));
    // What is opened beside the picture stands over the messages.
    effect(() => {
      if (this.opened() !== null) this.side.set('viewers');
    });
    const room = inject(RoomSources);
    const standIns = this.standIns;
    // The show as it is planned may still change: names on the stage follow.
    effect(() => {
      const show = this.show();
      if (!show) return;
      untracked(() => {
        void this.composing.open(openedOf(show));
        void room.open(show.id);
        void standIns.open(show.id);
      });
    });
    const known = computed(() => this.show()?.id);
    effect(() => {
      const id = known();
      if (id === undefined) return;
      untracked(() => {
        this.store.dispatch(ProgrammeActions.opened({ showId: id }));
        this.listings.open(id);
      });
    });
    // Lives on after this page, with the composing.
    inject(ProgrammeMessages);
    const here = inject(EncodingMachineHere);
    const destinations = this.store.selectSignal(listingsFeature.selectDestinations);
    const plan = computed(() => {
      const show = this.show();
      return show && planProgramme(show.pictureFormat, placesOf(destinations()), here.machine());
    });
    const limiting = computed(() => {
      const planned = plan();
      if (!planned) return '';
      const { feeds = [], renditions = [] } = this.programme() ?? {};
      const sent = feeds.filter(({ state }) => isUnderWay(state)).map(({ destinationId }) => destinationId);
      const apart = renditions.flatMap(({ destinationIds }) => destinationIds);
      return whoGetsProgramme(planned, sent, apart).join(' ');
    });
    effect(() => {
      if (!plan()) return;
      const ids = limiting().split(' ');
      const limits = destinations()
        .filter(({ id }) => ids.includes(id))
        .map(({ name, rules }) => ({ name, maxKbps: rules.capabilities.encoder.maxKbps }));
      untracked(() => this.composing.limitTo(limits));
    });
  }

  /** The panic key. From the desk that composes straight to the relay, so that it works without the server too. */
  protected cover(): void {
    if (!this.canCover()) return;
    const on = !this.covered();
    if (!this.composing.cover(on)) this.store.dispatch(ProgrammeActions.cover({ showId: this.showId(), on }));
  }

  private readonly shortcuts: readonly Shortcut[] = [
    { keys: [COVER_KEY, COVER_CHORD], act: () => this.cover(), reach: 'always' },
    { keys: ['Shift+E'], act: () => this.askToEnd(), isOn: () => this.canEnd() && !this.busy() },
    { keys: ['?'], act: () => this.openKeys() },
    { keys: ['p'], act: () => void this.router.navigate(['/shows', this.showId()]) },
    {
      keys: [STAND_IN_KEY],
      act: () => void this.standIns.sendIn(),
      isOn: () => this.may()('show.run'),
    },
    this.driving(NAMES_KEY, () => this.stage.setNames(!this.stage.scene().names)),
    ...LAYOUTS.map((layout) => this.driving(LAYOUT_KEYS[layout], () => this.stage.setLayout(layout))),
    this.driving(ARM_KEY, () => this.stage.arm(!this.stage.isArmed())),
    this.driving(GRAPHICS_KEY, () => this.openOrClose('graphics')),
    this.driving(OWN_LAYOUT_KEY, () => this.openOrClose('layout')),
    this.driving(TAKE_KEY, () => {
      if (this.stage.isArmed()) this.stage.take();
    }),
    ...PEOPLE_KEYS.map((key, place) => this.driving(key, () => this.bringOnOrTakeOff(place))),
    // A feed’s key is armed before it does anything: that is to be seen.
    { keys: FEED_KEYS, act: () => this.side.set('feeds') },
    { keys: [MARK_KEY], act: () => this.marks()?.mark() },
    ...chatShortcuts(() => this.chatInSight()),
    { keys: ['F6'], act: () => this.nextPanel(1) },
    { keys: ['Shift+F6'], act: () => this.nextPanel(-1) },
  ];

  /** Of whoever may run the show, at any desk, while something is composed. */
  private driving(key: string, act: () => void): Shortcut {
    const isOn = () => this.may()('show.run') && this.whoComposes.isAnywhere();
    return { keys: [key], act, isOn };
  }

  /** Where the feeds stand in their place, a key of the messages shows them first: nothing is done to what nobody sees. */
  private chatInSight(): ChatPanel | undefined {
    const panel = this.element.nativeElement.querySelector('jn-chat-panel');
    if (panel?.checkVisibility()) return this.chat();
    this.side.set('viewers');
    return undefined;
  }

  protected askToEnd(): void {
    this.feeds()?.askToEnd();
  }

  private openOrClose(of: 'graphics' | 'layout'): void {
    this.panel.content.set(this.opened() === of ? null : { of });
  }

  /** By their place in the plan. */
  private bringOnOrTakeOff(place: number): void {
    const person = this.show()?.text.people[place];
    if (!person) return;
    const source = sourceId('camera', person.id);
    if (this.stage.isPlaced(source)) this.stage.takeOff(source);
    else if (this.stage.stage().sources.some((one) => one.source === source)) this.stage.bringOn(source);
  }

  protected openKeys(): void {
    this.modal.open(this.keysDialog(), { ariaLabelledBy: 'keys-title', windowClass: 'night' });
  }

  private nextPanel(step: 1 | -1): void {
    const all = this.element.nativeElement.querySelectorAll<HTMLElement>('section.part');
    const panels = [...all].filter((panel) => panel.checkVisibility());
    const at = panels.findIndex((panel) => panel.contains(document.activeElement));
    const next = at < 0 && step < 0 ? panels.length - 1 : (at + step + panels.length) % panels.length;
    panels[next]?.focus();
  }
}

const SIDES = ['viewers', 'feeds'] as const;
type Side = (typeof SIDES)[number];
/** Start and publish feeds, or end them. */
const FEED_KEYS = PEOPLE_KEYS.flatMap((digit) => [`Shift+${digit}`, `Alt+Shift+${digit}`]);

/** From the first feed to now, or to the end. */
function runningMark(show: Show, nowMs: number): LineMark {
  const atMs = show.startedAtMs!;
  const lengthMs = Math.max(0, (show.endedAtMs ?? nowMs) - atMs);
  const state = show.endedAtMs === null ? 'phase.live' : 'phase.wrap';
  return { id: 'running', atMs, lengthMs, name: showNowTexts.running, state };
}
