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
import type { ChatAct, ChatMessage } from '@juncta/contract/chat';
import { readingSeconds } from '@juncta/core/chat';
import { formatShowTime } from '@juncta/core/stage';
import { NgbModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { PageClock } from '../clock/page-clock';
import { ArmedKey } from '../look/armed-key';
import { Key } from '../look/key';
import { Notice } from '../look/notice';
import { Tile } from '../look/tile';
import { relayFeature } from '../relay/relay.feature';
import { teamFeature } from '../team/team.feature';
import { ChatActions } from './chat.actions';
import { chatFeature } from './chat.feature';
import { chatTexts, standingWords } from './chat.texts';
import { ChatWriter } from './chat-writer';
import { ANSWER_KEY, ASIDE_KEY, PUT_KEY, QUESTION_KEY } from './chat-keys';
import { ChatRules } from './chat-rules';

/** 0: as long as reading takes. */
const SECONDS = [0, 5, 10, 20, 30] as const;
/** Nearer to the foot than this, and the reader is at the newest. */
const AT_FOOT_PX = 40;

type List = 'all' | 'aside' | 'questions';

/** What is not shown is in a list of its own; hidden there too, so that it can be found again. */
function isIn(list: List, { standing, question }: ChatMessage): boolean {
  if (list === 'aside') return standing !== 'shown';
  return standing === 'shown' && (list === 'all' || question === 'lined_up');
}

/** What takes back what was done; nothing takes back an answer that was given. */
const UNDO: Partial<Record<ChatAct, ChatAct>> = {
  set_aside: 'let_through',
  hide: 'let_through',
  mute: 'unmute',
  line_up: 'unline',
  answered: 'line_up',
  unline: 'line_up',
};

/** Why a message is not shown; null: it is. */
function whyOf({ standing, by, hiddenThere }: ChatMessage): string | null {
  if (standing === 'shown') return null;
  const rules: Readonly<Record<string, string>> = standingWords.byRule;
  const why = rules[by ?? ''] ?? by ?? '';
  const there = standing === 'hidden' && hiddenThere !== true ? ` ${standingWords.onlyHere}` : '';
  return standing === 'aside' ? standingWords.aside(why) : `${standingWords.hidden(why)}.${there}`;
}

/** Viewers' messages from everywhere in one list, and what can be done with one. */
@Component({
  selector: 'jn-chat-panel',
  imports: [ArmedKey, ChatRules, ChatWriter, Key, Notice, Tile],
  templateUrl: './chat-panel.html',
  styleUrl: './chat-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatPanel {
  private readonly store = inject(Store);
  private readonly clock = inject(PageClock);
  protected readonly texts = chatTexts;
  protected readonly seconds = SECONDS;
  protected readonly putKey = PUT_KEY.toUpperCase();
  protected readonly answerKey = ANSWER_KEY.toUpperCase();
  protected readonly questionKey = QUESTION_KEY.toUpperCase();
  protected readonly asideKey = ASIDE_KEY.toUpperCase();
  private readonly modals = inject(NgbModal);
  private readonly rulesDialog = viewChild.required<TemplateRef<unknown>>('rules');

  readonly showId = input.required<string>();
  /** The show was on and is over. */
  readonly over = input.required<boolean>();

  private readonly list = viewChild<ElementRef<HTMLElement>>('list');
  private readonly writer = viewChild(ChatWriter);
  private readonly messages = this.store.selectSignal(chatFeature.selectMessages);
  private readonly lines = this.store.selectSignal(chatFeature.selectLines);
  private readonly destinations = this.store.selectSignal(relayFeature.selectDestinations);
  private readonly set = this.store.selectSignal(chatFeature.selectOnProgramme);
  protected readonly busy = this.store.selectSignal(chatFeature.selectBusy);
  protected readonly error = this.store.selectSignal(chatFeature.selectError);
  protected readonly outcomes = this.store.selectSignal(chatFeature.selectOutcomes);
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayWrite = computed(() => this.may()('chat.write'));
  protected readonly mayClose = computed(() => this.may()('show.run'));

  protected readonly chosenId = signal<string | null>(null);
  protected readonly forSeconds = signal<number>(0);
  /** How many came while the reader read further up. */
  protected readonly unseen = signal(0);
  private atFoot = true;

  protected readonly which = signal<List>('all');
  protected readonly lists = computed(() => {
    const messages = this.messages();
    const count = (list: List) => messages.filter((message) => isIn(list, message)).length;
    return [
      { id: 'all' as const, name: chatTexts.all, count: null },
      { id: 'aside' as const, name: chatTexts.aside, count: count('aside') },
      { id: 'questions' as const, name: chatTexts.questions, count: count('questions') },
    ];
  });
  protected readonly empty = computed(() => {
    if (this.which() === 'aside') return chatTexts.noAside;
    if (this.which() === 'questions') return chatTexts.noQuestions;
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
  protected readonly rows = computed(() => {
    const byId = new Map(this.destinations().map((destination) => [destination.id, destination]));
    const which = this.which();
    const listed = this.messages().filter((message) => isIn(which, message));
    return listed.map((message) => ({
      message,
      why: whyOf(message),
      destination: byId.get(message.destinationId) ?? null,
      time: message.showTimeMs === null ? null : formatShowTime(message.showTimeMs),
    }));
  });
  protected readonly chosen = computed(
    () => this.rows().find(({ message }) => message.id === this.chosenId()) ?? null,
  );
  protected readonly hasOpen = computed(() => this.lines().some(({ state }) => state !== 'closed'));
  protected readonly troubles = computed(() =>
    this.lines().flatMap(({ state, sentence }) =>
      (state === 'lost' || state === 'refused') && sentence !== null ? sentence : [],
    ),
  );
  /** What is on the programme, with the whole seconds it still has; null when nothing is. */
  protected readonly onProgramme = computed(() => {
    this.clock.nowMs();
    const set = this.set();
    if (!set) return null;
    const leftMs = set.untilMs - performance.now();
    return leftMs > 0 ? { ...set, left: Math.ceil(leftMs / 1000) } : null;
  });
  protected readonly failures = computed(() =>
    this.outcomes().flatMap(({ sent, sentence }) => (sent ? [] : (sentence ?? []))),
  );
  protected readonly places = computed(() => {
    const open = new Set(
      this.lines().flatMap(({ state, destinationId }) => (state === 'closed' ? [] : destinationId)),
    );
    const asked = this.writer()?.replyTo();
    return this.destinations().filter(
      ({ id, rules }) =>
        open.has(id) &&
        rules.capabilities.chat.abilities.includes('reply') &&
        (!asked || asked.destinationId === id),
    );
  });

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() => this.store.dispatch(ChatActions.opened({ showId })));
    });
    let shown = 0;
    effect(() => {
      const count = this.rows().length;
      const list = this.list()?.nativeElement;
      untracked(() => {
        if (this.atFoot) {
          // After it was drawn.
          setTimeout(() => list?.scrollTo({ top: list.scrollHeight }));
        } else this.unseen.update((n) => n + Math.max(0, count - shown));
        shown = count;
      });
    });
  }

  protected scrolled(): void {
    const list = this.list()!.nativeElement;
    this.atFoot = list.scrollHeight - list.scrollTop - list.clientHeight < AT_FOOT_PX;
    if (this.atFoot) this.unseen.set(0);
  }

  protected toFoot(): void {
    const list = this.list()!.nativeElement;
    list.scrollTo({ top: list.scrollHeight });
  }

  choose(id: string): void {
    this.chosenId.set(this.chosenId() === id ? null : id);
    // What can be done with it must not lie below the edge.
    setTimeout(() => {
      const button = this.list()?.nativeElement.querySelector<HTMLElement>(`[data-id="${id}"]`);
      button?.closest('li')?.scrollIntoView({ block: 'nearest' });
    });
  }

  /** The one before or after the chosen one; without one, the newest. */
  step(by: -1 | 1): void {
    const rows = this.rows();
    if (rows.length === 0) return;
    const at = rows.findIndex(({ message }) => message.id === this.chosenId());
    const next = at < 0 ? rows.length - 1 : Math.max(0, Math.min(rows.length - 1, at + by));
    const { id } = rows[next]!.message;
    this.chosenId.set(id);
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
  }

  protected act(messageId: string, act: ChatAct): void {
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
    this.act(message.id, act);
  }

  protected openRules(): void {
    this.modals.open(this.rulesDialog(), {
      ariaLabelledBy: 'chat-rules-title',
      size: 'lg',
      windowClass: 'night',
      animation: false,
    });
  }

  putChosen(): void {
    const chosen = this.chosen();
    if (chosen && this.mayWrite()) this.put(chosen.message);
  }

  answerChosen(): void {
    const chosen = this.chosen();
    if (chosen && this.mayWrite()) this.writer()?.answer(chosen.message);
  }

  focusWriter(): void {
    this.writer()?.focus();
  }

  protected put(message: ChatMessage | null): void {
    this.store.dispatch(
      ChatActions.putOnProgramme({
        showId: this.showId(),
        messageId: message?.id ?? null,
        seconds: this.forSeconds() || readingSeconds(message?.text ?? ''),
      }),
    );
  }

  protected close(): void {
    this.store.dispatch(ChatActions.close({ showId: this.showId() }));
  }
}
