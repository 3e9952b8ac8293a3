import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  type TemplateRef,
  untracked,
  viewChild,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { Show } from '@juncta/contract/shows';
import { phaseAt } from '@juncta/core/shows';
import { formatShowTime, LAYOUTS } from '@juncta/core/stage';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { EventFeed } from '../api/event-feed';
import { PageClock } from '../clock/page-clock';
import { TimeFormat } from '../clock/time-format';
import { Key } from '../look/key';
import { StateMark, type MarkedState } from '../look/state-mark';
import { TimeFigure } from '../look/time-figure';
import { TimeLine, type LineMark } from '../look/time-line';
import { shellTexts } from '../shell/shell.texts';
import { showsFeature } from '../shows/shows.feature';
import { phaseNames } from '../shows/shows.texts';
import { AlarmStrip } from '../relay/alarm-strip';
import { FeedsPanel } from '../relay/feeds-panel';
import { MarksPanel } from '../marks/marks-panel';
import { RelayActions } from '../relay/relay.actions';
import { relayFeature } from '../relay/relay.feature';
import { ComposingDesk } from '../stage/composing-desk';
import { StandIns } from '../people/room/stand-ins';
import { COVER_KEY, LAYOUT_KEYS, MARK_KEY, NAMES_KEY, STAND_IN_KEY } from '../stage/desk-keys';
import { PeoplePanel } from '../stage/people-panel';
import { RoomSources } from '../stage/room-sources';
import { ProgrammePanel } from '../stage/programme-panel';
import { stageTexts } from '../stage/stage.texts';
import { teamFeature } from '../team/team.feature';
import { deskTexts } from './desk.texts';
import { isTyping } from '../look/is-typing';
import { chatTexts } from '../chat/chat.texts';
import { ChatFiles } from '../chat/chat-files';
import { ForHost } from '../chat/for-host';
import { NextQuestion } from '../chat/next-question';
import { ChatPanel } from '../chat/chat-panel';
import { ANSWER_KEY, ASIDE_KEY, PUT_KEY, QUESTION_KEY, WRITE_KEY } from '../chat/chat-keys';
import { chatFeature } from '../chat/chat.feature';

const MINUTE = 60_000;
/** The strip shows so much before and after the planned time. */
const LINE_BEFORE_MS = 60 * MINUTE;
const LINE_AFTER_MS = 30 * MINUTE;

/** The desk: the live control view of one show. Everything on it has its place, whether it is there yet or not. */
@Component({
  selector: 'jn-desk-page',
  imports: [
    AlarmStrip,
    ChatFiles,
    ChatPanel,
    FeedsPanel,
    ForHost,
    Key,
    MarksPanel,
    NextQuestion,
    PeoplePanel,
    ProgrammePanel,
    RouterLink,
    StateMark,
    TimeFigure,
    TimeLine,
  ],
  templateUrl: './desk.page.html',
  styleUrl: './desk.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'night', '(document:keydown)': 'onKey($event)' },
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
  private readonly standIns = inject(StandIns);

  readonly showId = input.required<string>();
  private readonly chat = viewChild(ChatPanel);
  private readonly marks = viewChild(MarksPanel);
  private readonly keysDialog = viewChild.required<TemplateRef<unknown>>('keys');
  private readonly entities = this.store.selectSignal(showsFeature.selectEntities);
  protected readonly status = this.store.selectSignal(showsFeature.selectStatus);
  protected readonly show = computed(() => this.entities()[this.showId()] ?? null);
  protected readonly nowMs = this.clock.nowMs;
  private readonly programme = this.store.selectSignal(relayFeature.selectProgramme);
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

  protected readonly state = computed((): MarkedState => {
    const show = this.show();
    if (!show) return 'phase.plan';
    const { phase, overdue } = phaseAt(show, this.nowMs());
    return overdue ? 'phase.overdue' : `phase.${phase}`;
  });
  protected readonly word = computed(() => {
    const state = this.state().split('.')[1] as keyof typeof phaseNames;
    return phaseNames[state];
  });
  /** To the planned start, as h:mm:ss; how late it is once that has gone by; how long it runs once it does. */
  protected readonly toGo = computed(() => {
    const show = this.show();
    if (show?.endedAtMs !== null) return null;
    if (show.startedAtMs !== null) {
      const text = formatShowTime(Math.max(0, this.nowMs() - show.startedAtMs));
      return { text, label: deskTexts.running, late: false };
    }
    if (show.startsAtMs === null) return null;
    const ahead = show.startsAtMs - this.nowMs();
    const label = ahead < 0 ? deskTexts.late : deskTexts.toGo;
    return { text: formatShowTime(Math.abs(ahead)), label, late: ahead < 0 };
  });
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
      state: running ? 'phase.plan' : this.state(),
    };
    // Wide enough for now, up to a day away from the start; beyond that the line is of the show alone.
    const near = Math.abs(this.nowMs() - start) < 24 * 60 * MINUTE;
    return {
      fromMs: Math.min(start - LINE_BEFORE_MS, near ? this.nowMs() - LINE_AFTER_MS : Infinity),
      toMs: Math.max(start + lengthMs + LINE_AFTER_MS, near ? this.nowMs() + LINE_AFTER_MS : -Infinity),
      marks: running ? [mark, running] : [mark],
    };
  });

  constructor() {
    const room = inject(RoomSources);
    const standIns = this.standIns;
    // The show as it is planned may still change: names on the stage follow.
    effect(() => {
      const show = this.show();
      if (!show) return;
      untracked(() => {
        this.store.dispatch(RelayActions.opened({ showId: show.id }));
        void this.composing.open(show.id, show.text.title, show.text.people);
        void room.open(show.id);
        void standIns.open(show.id);
      });
    });
    const onProgramme = this.store.selectSignal(chatFeature.selectOnProgramme);
    const destinations = this.store.selectSignal(relayFeature.selectDestinations);
    effect(() => {
      const set = onProgramme();
      if (this.composing.status() !== 'composing') return;
      untracked(() => {
        const place = destinations().find(({ id }) => id === set?.destinationId)?.rules.place ?? '';
        const forMs = set ? set.untilMs - performance.now() : 0;
        this.composing.showMessage(set && forMs > 0 ? { ...set, place, forMs } : null);
      });
    });
    effect(() => {
      const limits = destinations().map(({ name, rules }) => ({
        name,
        maxKbps: rules.capabilities.encoder.maxKbps,
      }));
      untracked(() => this.composing.limitTo(limits));
    });
  }

  /** The panic key. From the desk that composes straight to the relay, so that it works without the server too. */
  protected cover(): void {
    if (!this.canCover()) return;
    const on = !this.covered();
    if (!this.composing.cover(on)) this.store.dispatch(RelayActions.cover({ showId: this.showId(), on }));
  }

  protected onKey(event: KeyboardEvent): void {
    if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey || this.modal.hasOpenModals())
      return;
    switch (event.key) {
      case '?':
        this.openKeys();
        break;
      case 'p':
        void this.router.navigate(['/shows', this.showId()]);
        break;
      case COVER_KEY:
        this.cover();
        break;
      case STAND_IN_KEY:
        if (this.may()('show.run')) void this.standIns.sendIn();
        break;
      case NAMES_KEY:
        this.composing.setNames(!this.composing.names());
        break;
      case LAYOUT_KEYS.single:
      case LAYOUT_KEYS.pair:
      case LAYOUT_KEYS.grid:
        this.composing.setLayout(LAYOUTS.find((layout) => LAYOUT_KEYS[layout] === event.key)!);
        break;
      case '1':
      case '2':
      case '3':
      case '4':
      case '5':
      case '6':
      case '7':
      case '8':
      case '9':
        this.bringOnOrTakeOff(Number(event.key) - 1);
        break;
      case MARK_KEY:
        this.marks()?.mark();
        break;
      case PUT_KEY:
        this.chat()?.putChosen();
        break;
      case QUESTION_KEY:
        this.chat()?.lineUpChosen();
        break;
      case ASIDE_KEY:
        this.chat()?.setAsideChosen();
        break;
      case ANSWER_KEY:
        this.chat()?.answerChosen();
        break;
      case WRITE_KEY:
        this.chat()?.focusWriter();
        break;
      case 'ArrowUp':
      case 'ArrowDown':
        this.chat()?.step(event.key === 'ArrowUp' ? -1 : 1);
        break;
      case 'F6':
        this.nextPanel(event.shiftKey ? -1 : 1);
        break;
      default:
        return;
    }
    event.preventDefault();
  }

  /** By their place in the plan. */
  private bringOnOrTakeOff(place: number): void {
    const person = this.show()?.text.people[place];
    if (!person || this.composing.status() !== 'composing') return;
    if (this.composing.stage().includes(person.id)) this.composing.takeOff(person.id);
    else if (this.composing.sources.known()[person.id]) this.composing.bringOn(person.id);
  }

  protected openKeys(): void {
    this.modal.open(this.keysDialog(), { ariaLabelledBy: 'keys-title', windowClass: 'night' });
  }

  private nextPanel(step: 1 | -1): void {
    const panels = [...this.element.nativeElement.querySelectorAll<HTMLElement>('section')];
    const at = panels.findIndex((panel) => panel.contains(document.activeElement));
    const next = at < 0 && step < 0 ? panels.length - 1 : (at + step + panels.length) % panels.length;
    panels[next]?.focus();
  }
}

/** From the first feed to now, or to the end. */
function runningMark(show: Show, nowMs: number): LineMark {
  const atMs = show.startedAtMs!;
  const lengthMs = Math.max(0, (show.endedAtMs ?? nowMs) - atMs);
  const state = show.endedAtMs === null ? 'phase.live' : 'phase.wrap';
  return { id: 'running', atMs, lengthMs, name: deskTexts.running, state };
}
