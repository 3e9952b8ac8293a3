import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { ON_PROGRAMME_MAX, type ChatMessage } from '@juncta/contract/chat';
import { type ChatAct, readingSeconds } from '@juncta/core/chat';
import { Store } from '@ngrx/store';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { ANSWER_KEY, ASIDE_KEY, PUT_KEY, QUESTION_KEY } from './chat-keys';
import { ChatActions } from '../chat.actions';
import { chatFeature } from '../chat.feature';
import { chatTexts } from '../chat.texts';
import { ViewerCardPanel } from '../viewers/viewer-card';

/** 0: as long as reading takes; null: until it is taken off. */
const SECONDS = [0, 5, 10, 20, 30, null] as const;

/** What can be done with the chosen message. */
@Component({
  selector: 'jn-message-acts',
  imports: [ArmedKey, Key, ViewerCardPanel],
  templateUrl: './message-acts.html',
  styleUrl: './message-acts.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MessageActs {
  private readonly store = inject(Store);
  protected readonly texts = chatTexts;
  protected readonly seconds = SECONDS;
  protected readonly onProgrammeMax = ON_PROGRAMME_MAX;
  protected readonly putKey = PUT_KEY.toUpperCase();
  protected readonly answerKey = ANSWER_KEY.toUpperCase();
  protected readonly questionKey = QUESTION_KEY.toUpperCase();
  protected readonly asideKey = ASIDE_KEY.toUpperCase();

  readonly message = input.required<ChatMessage>();
  readonly acted = output<ChatAct>();
  readonly answering = output();

  protected readonly busy = this.store.selectSignal(chatFeature.selectBusy);
  protected readonly forSeconds = signal<(typeof SECONDS)[number]>(0);
  /** As it is to stand on the screen; null: as it was written. */
  protected readonly shortening = signal<string | null>(null);
  /** What is known of its writer is shown. */
  protected readonly card = signal(false);
  private readonly id = computed(() => this.message().id);

  /** Whether viewers may see it on the programme. */
  protected readonly mayPut = computed(() => {
    const { standing, kind, takenBack } = this.message();
    return standing === 'shown' && kind !== 'private' && !takenBack;
  });
  /** Whether a person wrote it, and not the house or the place. */
  protected readonly isViewers = computed(() => {
    const { author, kind } = this.message();
    return !author.owner && (kind === 'message' || kind === 'private');
  });

  /** What shuts somebody up stands apart from what is pressed all evening. */
  protected readonly isStern = computed(() => {
    const { standing, question } = this.message();
    return standing === 'shown' && question !== 'lined_up' && this.isViewers();
  });

  constructor() {
    effect(() => {
      this.id();
      untracked(() => {
        this.shortening.set(null);
        this.card.set(false);
      });
    });
  }

  put(): void {
    if (!this.mayPut()) return;
    const { id, showId, text: written } = this.message();
    const shortened = this.shortening()?.trim();
    const text = shortened === '' ? null : (shortened ?? null);
    const chosen = this.forSeconds();
    const seconds = chosen === 0 ? readingSeconds(text ?? written) : chosen;
    this.store.dispatch(ChatActions.putOnProgramme({ showId, messageId: id, seconds, text }));
    this.shortening.set(null);
  }

  /** What was written at length is made short for the screen; the message itself stays as it is. */
  protected shorten(): void {
    this.shortening.set(this.shortening() === null ? this.message().text.slice(0, ON_PROGRAMME_MAX) : null);
  }
}
