import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { ON_PROGRAMME_SECONDS, type ChatMessage } from '@juncta/contract/chat';
import { formatShowTime } from '@juncta/core/stage';
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
import { chatTexts } from './chat.texts';
import { ChatWriter } from './chat-writer';
import { ANSWER_KEY, PUT_KEY } from './chat-keys';

const SECONDS = [5, 10, 20, 30] as const;
/** Nearer to the foot than this, and the reader is at the newest. */
const AT_FOOT_PX = 40;

/** Viewers' messages from everywhere in one list, and what can be done with one. */
@Component({
  selector: 'jn-chat-panel',
  imports: [ArmedKey, ChatWriter, Key, Notice, Tile],
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
  protected readonly forSeconds = signal<number>(ON_PROGRAMME_SECONDS.usual);
  /** How many came while the reader read further up. */
  protected readonly unseen = signal(0);
  private atFoot = true;

  protected readonly rows = computed(() => {
    const byId = new Map(this.destinations().map((destination) => [destination.id, destination]));
    return this.messages().map((message) => ({
      message,
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
        seconds: this.forSeconds(),
      }),
    );
  }

  protected close(): void {
    this.store.dispatch(ChatActions.close({ showId: this.showId() }));
  }
}
