import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  signal,
  type TemplateRef,
  untracked,
  viewChild,
} from '@angular/core';
import { ON_PROGRAMME_SECONDS } from '@juncta/contract/chat';
import { type ChatAct, REACTION_KINDS } from '@juncta/core/chat';
import { formatShowTime } from '@juncta/core/programme';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { PageClock } from '../../clock/page-clock';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { Tile } from '../../look/tile';
import { listingsFeature } from '../../listings/listings.feature';
import { teamFeature } from '../../team/team.feature';
import { ChatActions } from '../chat.actions';
import { chatFeature, viewerOf } from '../chat.feature';
import { chatTexts, finderTexts } from '../chat.texts';
import { isIn, marksOf, UNDO, whyOf, type List } from './chat-rows';
import { ChatWriter } from '../replies/chat-writer';
import { ChatFinder } from './chat-finder';
import { ChatPlaces } from '../replies/chat-places';
import { ChatRules } from '../moderation/chat-rules';
import { ChatTexts } from '../replies/chat-texts';
import { FloodNotice } from '../floods/flood-notice';
import { MessageActs } from './message-acts';
import { PracticeBar } from '../practice/practice-bar';
import { PracticeDialog } from '../practice/practice-dialog';
import { PULLED_MS, Reading } from './reading';

/** Whoever stays so long at a message is about to deal with it. */
const TAKE_MS = 600;
/** Viewers' messages from everywhere in one list, and what can be done with one. */
@Component({
  selector: 'jn-chat-panel',
  imports: [
    ArmedKey,
    ChatFinder,
    ChatPlaces,
    ChatRules,
    ChatTexts,
    ChatWriter,
    FloodNotice,
    Key,
    MessageActs,
    Notice,
    PracticeBar,
    PracticeDialog,
    Tile,
  ],
  templateUrl: './chat-panel.html',
  styleUrl: './chat-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatPanel {
  private readonly store = inject(Store);
  private readonly clock = inject(PageClock);
  protected readonly texts = chatTexts;
  protected readonly pulledMs = PULLED_MS;
  private readonly modals = inject(NgbModal);

  readonly showId = input.required<string>();
  /** The show was on and is over. */
  readonly over = input.required<boolean>();

  private readonly list = viewChild<ElementRef<HTMLElement>>('list');
  private readonly writer = viewChild(ChatWriter);
  private readonly rulesDialog = viewChild(ChatRules);
  private readonly textsDialog = viewChild(ChatTexts);
  private readonly acts = viewChild(MessageActs);
  private readonly messages = this.store.selectSignal(chatFeature.selectMessages);
  private readonly pressed = this.store.selectSignal(chatFeature.selectReactions);
  private readonly notes = this.store.selectSignal(chatFeature.selectNotes);
  private readonly lines = this.store.selectSignal(chatFeature.selectLines);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
  private readonly set = this.store.selectSignal(chatFeature.selectOnProgramme);
  protected readonly busy = this.store.selectSignal(chatFeature.selectBusy);
  protected readonly error = this.store.selectSignal(chatFeature.selectError);
  protected readonly outcomes = this.store.selectSignal(chatFeature.selectOutcomes);
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  private readonly me = this.store.selectSignal(teamFeature.selectMember);
  protected readonly mayWrite = computed(() => this.may()('chat.write'));
  protected readonly mayClose = computed(() => this.may()('show.run'));

  protected readonly chosenId = signal<string | null>(null);
  private readonly found = this.store.selectSignal(chatFeature.selectFound);
  private readonly moreBefore = this.store.selectSignal(chatFeature.selectMoreBefore);
  protected readonly finding = signal(false);

  protected readonly which = signal<List>('all');
  protected readonly lists = computed(() => {
    const messages = this.messages();
    const count = (list: List) => messages.filter((message) => isIn(list, message)).length;
    return [
      { id: 'all' as const, name: chatTexts.all, count: null },
      { id: 'aside' as const, name: chatTexts.aside, count: count('aside') },
      { id: 'questions' as const, name: chatTexts.questions, count: count('questions') },
      // Only some places have such a thing.
      ...(messages.some(({ kind }) => kind === 'private')
        ? [{ id: 'private' as const, name: chatTexts.toUs, count: count('private') }]
        : []),
    ];
  });
  protected readonly empty = computed(() => {
    if (this.found()?.messages) return finderTexts.nothing;
    if (this.which() === 'aside') return chatTexts.noAside;
    if (this.which() === 'questions') return chatTexts.noQuestions;
    if (this.which() === 'private') return chatTexts.noPrivate;
    return this.hasOpen() ? chatTexts.waiting : chatTexts.none;
  });
  /** What was done last, and how to take it back. */
  protected readonly last = computed(() => {
    const last = this.store.selectSignal(chatFeature.selectLastAct)();
    return (
      last && {
        messageId: last.messageId,
        sentence: last.sentence ?? chatTexts.done[last.act],
        undo: UNDO[last.act] ?? null,
      }
    );
  });
  /** What the list is of: what was found, or what came. */
  private readonly listed = computed(() => {
    const found = this.found()?.messages;
    if (found) return found;
    const which = this.which();
    return this.messages().filter((message) => isIn(which, message));
  });
  protected readonly reading: Reading = new Reading({
    listed: this.listed,
    isFound: computed(() => this.found() !== null),
    isChosen: () => this.chosen() !== null,
    element: () => this.list()?.nativeElement,
    earlier: () => {
      if (this.which() === 'all' && !this.found() && this.moreBefore())
        this.store.dispatch(ChatActions.earlier({ showId: this.showId() }));
    },
    readingBack: () => this.store.dispatch(ChatActions.readingBack()),
    atNewest: () => this.store.dispatch(ChatActions.atNewest()),
  });
  protected readonly atBeginning = computed(
    () =>
      this.which() === 'all' &&
      !this.found() &&
      !this.moreBefore() &&
      this.reading.isAllDrawn() &&
      this.reading.drawn().length > 0,
  );
  protected readonly rows = computed(() => {
    const byId = new Map(this.destinations().map((destination) => [destination.id, destination]));
    const [me, notes] = [this.me()?.id, this.notes()];
    return this.reading.drawn().map((message) => ({
      message,
      why: whyOf(message),
      marks: marksOf(message),
      // An empty one was taken away.
      note: notes[viewerOf({ destinationId: message.destinationId, authorId: message.author.id })]?.note,
      told: message.kind === 'follow' || message.kind === 'sale',
      takenBy: message.takenBy && message.takenBy.memberId !== me ? message.takenBy.name : null,
      destination: byId.get(message.destinationId) ?? null,
      time: message.showTimeMs === null ? null : formatShowTime(message.showTimeMs),
    }));
  });
  protected readonly chosen = computed(
    () => this.rows().find(({ message }) => message.id === this.chosenId()) ?? null,
  );
  /** What viewers pressed, in words; null: nothing. */
  protected readonly reactions = computed(() => {
    const { counts, lastMinute } = this.pressed();
    const words = REACTION_KINDS.flatMap((kind) =>
      counts[kind] ? chatTexts.reactions[kind](counts[kind]) : [],
    );
    if (words.length === 0) return null;
    return [...words, ...(lastMinute > 0 ? [chatTexts.inTheLastMinute(lastMinute)] : [])].join(' · ');
  });
  protected readonly hasOpen = computed(() => this.lines().some(({ state }) => state !== 'closed'));
  protected readonly practice = this.store.selectSignal(chatFeature.selectPractice);
  /** One practises while nothing is in earnest. */
  protected readonly mayPractise = computed(() => !this.hasOpen() && this.practice() === null);
  protected readonly troubles = computed(() =>
    this.lines().flatMap(({ state, sentence }) =>
      (state === 'lost' || state === 'refused') && sentence !== null ? sentence : [],
    ),
  );
  /** What is on the programme, with the whole seconds it still has, null: until it is taken off; null when nothing is. */
  protected readonly onProgramme = computed(() => {
    this.clock.nowMs();
    const set = this.set();
    if (!set) return null;
    const leftMs = set.untilMs - performance.now();
    return leftMs > 0 ? { ...set, left: leftMs === Infinity ? null : Math.ceil(leftMs / 1000) } : null;
  });
  protected readonly failures = computed(() =>
    this.outcomes().flatMap(({ sent, sentence }) => (sent ? [] : (sentence ?? []))),
  );
  protected readonly places = computed(() => {
    const open = new Set(
      this.lines().flatMap(({ state, destinationId }) => (state === 'closed' ? [] : destinationId)),
    );
    const practising = this.practice() !== null;
    const asked = this.writer()?.replyTo();
    return this.destinations().filter(
      ({ id, rules }) =>
        (open.has(id) || practising) &&
        rules.capabilities.chat.abilities.includes('reply') &&
        (!asked || asked.destinationId === id),
    );
  });

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() => {
        this.store.dispatch(ChatActions.opened({ showId }));
        this.reading.release();
      });
    });
    let taken: string | null = null;
    effect((onCleanup) => {
      const [id, showId] = [this.chosenId(), this.showId()];
      untracked(() => {
        if (taken !== null)
          this.store.dispatch(ChatActions.take({ showId, messageId: taken, act: 'release' }));
        taken = null;
        if (id === null || !this.mayWrite()) return;
        // Whoever only passes by takes nothing.
        this.taking = setTimeout(() => {
          taken = id;
          this.store.dispatch(ChatActions.take({ showId, messageId: id, act: 'take' }));
        }, TAKE_MS);
        onCleanup(() => clearTimeout(this.taking));
      });
    });
    effect(() => {
      // What was chosen and is dealt with may leave the list. Taken back, it is there again, and still the chosen one.
      if (this.chosen() === null) untracked(() => this.reading.goOn());
    });
    effect(() => {
      this.rows();
      // After it was drawn, unless somebody began to read back meanwhile.
      setTimeout(() => this.reading.toFoot());
    });
  }

  protected toggleFinding(): void {
    this.finding.update((finding) => !finding);
    if (!this.finding()) this.store.dispatch(ChatActions.find({ showId: this.showId(), query: null }));
  }

  choose(id: string): void {
    if (this.chosenId() === id) {
      this.unchoose();
      return;
    }
    this.stayAt(id);
    // What can be done with it must not lie below the edge.
    setTimeout(() => {
      const button = this.list()?.nativeElement.querySelector<HTMLElement>(`[data-id="${id}"]`);
      button?.closest('li')?.scrollIntoView({ block: 'nearest' });
    });
  }

  /** What somebody deals with stays where it is, and its keys with it, whatever comes meanwhile. */
  private stayAt(id: string): void {
    this.chosenId.set(id);
    this.reading.hold();
  }

  private unchoose(): void {
    this.chosenId.set(null);
    this.reading.goOn();
  }

  /** The one before or after the chosen one; without one, the newest. */
  step(by: -1 | 1): void {
    const rows = this.rows();
    if (rows.length === 0) return;
    this.reading.mean();
    const at = rows.findIndex(({ message }) => message.id === this.chosenId());
    const next = at < 0 ? rows.length - 1 : Math.max(0, Math.min(rows.length - 1, at + by));
    const { id } = rows[next]!.message;
    this.stayAt(id);
    // After it was drawn, with what can be done with it.
    setTimeout(() => {
      const button = this.list()?.nativeElement.querySelector<HTMLElement>(`[data-id="${id}"]`);
      button?.focus({ preventScroll: true });
      button?.closest('li')?.scrollIntoView({ block: 'nearest' });
    });
  }

  protected show(list: List): void {
    this.which.set(list);
    this.chosenId.set(null);
    this.reading.release();
  }

  /** Until somebody stays at the chosen message. */
  private taking: ReturnType<typeof setTimeout> | undefined;

  protected act(messageId: string, act: ChatAct): void {
    // It is dealt with: nobody is about to.
    clearTimeout(this.taking);
    this.store.dispatch(ChatActions.moderate({ showId: this.showId(), messageId, act }));
  }

  /** What stays in the house has a key; what goes out to a place is armed first. */
  lineUpChosen(): void {
    this.actOnChosen('line_up');
  }

  setAsideChosen(): void {
    this.actOnChosen('set_aside');
  }

  private actOnChosen(act: ChatAct): void {
    const message = this.chosen()?.message;
    if (!message || !this.mayWrite() || message.author.owner || message.standing !== 'shown') return;
    const isOpen = message.kind === 'message' && !message.takenBack;
    if (act !== 'line_up' || isOpen) this.act(message.id, act);
  }

  protected open(dialog: TemplateRef<unknown>, ariaLabelledBy: string): void {
    this.modals.open(dialog, {
      ariaLabelledBy,
      size: 'lg',
      scrollable: true,
      windowClass: 'night',
      animation: false,
      beforeDismiss: () => (this.rulesDialog() ?? this.textsDialog())?.unsaved.mayClose() ?? true,
    });
  }

  putChosen(): void {
    this.acts()?.put();
  }

  answerChosen(): void {
    const chosen = this.chosen();
    if (chosen && this.mayWrite()) this.writer()?.answer(chosen.message);
  }

  /** A text that the house keeps ready goes into the field, where it can still be changed. */
  protected use(text: string): void {
    this.writer()?.put(text);
  }

  focusWriter(): void {
    this.writer()?.focus();
  }

  /** Back from writing: to the message that was answered, or to the list. */
  protected focusChosen(): void {
    const list = this.list()?.nativeElement;
    const chosen = list?.querySelector<HTMLElement>(`[data-id="${this.chosenId()}"]`);
    (chosen ?? list)?.focus({ preventScroll: true });
  }

  protected takeOff(): void {
    const off = { showId: this.showId(), messageId: null, seconds: ON_PROGRAMME_SECONDS.usual, text: null };
    this.store.dispatch(ChatActions.putOnProgramme(off));
  }

  protected close(): void {
    this.store.dispatch(ChatActions.close({ showId: this.showId() }));
  }
}
