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
import type { ChatMessage } from '@juncta/contract/chat';
import type { Destination } from '@juncta/contract/destinations';
import { fillHouseText } from '@juncta/core/chat';
import { overLength } from '@juncta/core/listings';
import { Actions, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Key } from '../look/key';
import { relayFeature } from '../relay/relay.feature';
import { showsFeature } from '../shows/shows.feature';
import { ChatActions } from './chat.actions';
import { ChatDrafts } from './chat-drafts';
import { chatFeature } from './chat.feature';
import { WRITE_KEY } from './chat-keys';
import { chatTexts } from './chat.texts';
import { practiceTexts } from './practice.texts';

/** Writes to viewers: an answer where it was asked, or to everybody. What was not sent everywhere stays in the field. */
@Component({
  selector: 'jn-chat-writer',
  imports: [Key],
  template: `
    <form (submit)="send($event)">
      <label for="chat-text">
        @if (replyTo(); as message) {
          {{
            message.kind === 'private'
              ? texts.answeringAlone(message.author.name, placeOf(message))
              : texts.answering(message.author.name, placeOf(message))
          }}
        } @else {
          {{ texts.toAll }}
        }
      </label>
      <textarea
        #field
        id="chat-text"
        class="input"
        rows="2"
        [value]="text()"
        [disabled]="!hasOpen()"
        (input)="type(field.value)"
        (keydown.enter)="send($event)"
        (keydown.escape)="field.blur()"
      ></textarea>
      @if (practice() !== null) {
        <span class="soft">{{ practiceTexts.goesNowhere }}</span>
      } @else if (!hasOpen()) {
        <span class="soft">{{ texts.closed }}</span>
      }
      @for (long of tooLong(); track long) {
        <span class="problem">{{ long }}</span>
      }
      <span class="keys">
        <button jnKey type="submit" [disabled]="busy() || !canSend()" [shortcut]="writeKey">
          {{ texts.write }}
        </button>
        @if (replyTo()) {
          <button jnKey type="button" (click)="answer(null)">{{ texts.toAllInstead }}</button>
        }
      </span>
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: var(--space-1);
    }
    label {
      font-weight: 600;
    }
    textarea {
      resize: none;
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatWriter {
  private readonly store = inject(Store);
  private readonly drafts = inject(ChatDrafts);
  protected readonly texts = chatTexts;
  protected readonly practiceTexts = practiceTexts;
  protected readonly writeKey = WRITE_KEY.toUpperCase();

  readonly showId = input.required<string>();
  /** Where it would be written now. */
  readonly places = input.required<readonly Destination[]>();
  readonly hasOpen = input.required<boolean>();
  readonly replyTo = signal<ChatMessage | null>(null);
  protected readonly text = signal('');
  /** The same for every try of one text: what was sent is not sent twice. */
  private id = crypto.randomUUID();
  private readonly field = viewChild.required<ElementRef<HTMLTextAreaElement>>('field');
  private readonly shows = this.store.selectSignal(showsFeature.selectEntities);
  private readonly destinations = this.store.selectSignal(relayFeature.selectDestinations);
  protected readonly practice = this.store.selectSignal(chatFeature.selectPractice);
  protected readonly busy = this.store.selectSignal(chatFeature.selectBusy);

  protected readonly tooLong = computed(() =>
    this.places().flatMap(({ rules }) => {
      const over = overLength(this.text(), rules.capabilities.chat.reply);
      return over > 0 ? chatTexts.over(over, rules.place) : [];
    }),
  );
  protected readonly canSend = computed(
    () => this.text().trim() !== '' && this.places().length > 0 && this.tooLong().length === 0,
  );

  constructor() {
    effect(() => {
      const { text, replyTo } = this.drafts.of(this.showId());
      untracked(() => {
        this.text.set(text);
        this.replyTo.set(replyTo);
        this.id = crypto.randomUUID();
      });
    });
    effect(() => {
      const draft = { text: this.text(), replyTo: this.replyTo() };
      untracked(() => this.drafts.keep(this.showId(), draft));
    });
    inject(Actions)
      .pipe(ofType(ChatActions.written), takeUntilDestroyed())
      .subscribe(({ id, outcomes }) => {
        if (id === this.id && outcomes.every(({ sent }) => sent)) this.clear();
      });
  }

  answer(message: ChatMessage | null): void {
    this.replyTo.set(message);
    this.id = crypto.randomUUID();
    this.focus();
  }

  focus(): void {
    this.field().nativeElement.focus();
  }

  /** With its placeholders filled in for whoever is answered, or for all. */
  put(text: string): void {
    const about = this.shows()[this.showId()]?.text;
    this.type(about ? fillHouseText(text, about, this.replyTo()?.author.name ?? null).text : text);
    this.focus();
  }

  protected type(text: string): void {
    this.text.set(text);
    // Another text is another message.
    this.id = crypto.randomUUID();
  }

  protected send(event: Event): void {
    if (event instanceof KeyboardEvent && event.shiftKey) return;
    event.preventDefault();
    if (!this.canSend() || this.busy()) return;
    const replyTo = this.replyTo()?.id ?? null;
    this.store.dispatch(
      ChatActions.write({ showId: this.showId(), id: this.id, text: this.text().trim(), replyTo }),
    );
  }

  protected placeOf({ destinationId }: ChatMessage): string {
    return this.destinations().find(({ id }) => id === destinationId)?.rules.place ?? '';
  }

  private clear(): void {
    this.text.set('');
    this.replyTo.set(null);
    this.id = crypto.randomUUID();
  }
}
