import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  output,
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
import { confirms } from '../../keyboard/confirms';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Arming } from '../../look/keys/arming';
import { Key } from '../../look/keys/key';
import { listingsFeature } from '../../listings/listings.feature';
import { showsFeature } from '../../shows/shows.feature';
import { ChatActions } from '../chat.actions';
import { ChatDrafts } from './chat-drafts';
import { chatFeature } from '../chat.feature';
import { WRITE_KEY } from '../list/chat-keys';
import { chatTexts } from '../chat.texts';
import { practiceTexts } from '../practice/practice.texts';

/** Writes to viewers: an answer where it was asked, or to everybody. What was not sent everywhere stays in the field. */
@Component({
  selector: 'jn-chat-writer',
  imports: [Key],
  template: `
    <form (submit)="send($event)">
      <label for="chat-text" [class.all]="!replyTo()">
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
        (keydown.escape)="escape()"
        (blur)="leave($event)"
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
        <button
          jnKey
          type="submit"
          [lamp]="armed() ? 'armed' : 'dark'"
          [disabled]="busy() || !canSend()"
          [shortcut]="armed() ? null : writeKey"
          (blur)="leave($event)"
        >
          {{ armed() ? texts.writeArmed(places().length) : texts.write }}
        </button>
        @if (replyTo()) {
          <button jnKey type="button" (click)="answer(null)">{{ texts.toAllInstead }}</button>
        }
      </span>
      <span class="visually-hidden" aria-live="assertive">{{
        armed() ? texts.writeArmed(places().length) : ''
      }}</span>
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: var(--space-1);
    }
    label {
      font-size: 1.13rem;
      font-weight: 600;
    }
    .all {
      padding-left: var(--space-2);
      border-left: 4px solid var(--saffron);
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
  /** It was sent, and the cursor is to leave the field: nothing typed next may reach viewers. */
  readonly done = output();
  protected readonly text = signal('');
  /** What everybody reads is sent with the second press. */
  private readonly arming = new Arming();
  protected readonly armed = this.arming.armed;
  /** The same for every try of one text: what was sent is not sent twice. */
  private id = crypto.randomUUID();
  private readonly field = viewChild.required<ElementRef<HTMLTextAreaElement>>('field');
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly shows = this.store.selectSignal(showsFeature.selectEntities);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
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
    inject(DestroyRef).onDestroy(() => this.arming.disarm());
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
    this.arming.disarm();
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
    this.arming.disarm();
    this.text.set(text);
    // Another text is another message.
    this.id = crypto.randomUUID();
  }

  protected send(event: Event): void {
    if ((event instanceof KeyboardEvent && event.shiftKey) || !confirms(event)) return;
    event.preventDefault();
    // A key that is held down is one press.
    if (!this.canSend() || this.busy() || (event instanceof KeyboardEvent && event.repeat)) return;
    const replyTo = this.replyTo()?.id ?? null;
    if (replyTo === null && !this.arming.press()) return;
    this.store.dispatch(
      ChatActions.write({ showId: this.showId(), id: this.id, text: this.text().trim(), replyTo }),
    );
  }

  protected placeOf({ destinationId }: ChatMessage): string {
    return this.destinations().find(({ id }) => id === destinationId)?.rules.place ?? '';
  }

  protected escape(): void {
    if (this.armed()) this.arming.disarm();
    else this.field().nativeElement.blur();
  }

  /** Out of field and key: what was armed is not meant any more. */
  protected leave({ relatedTarget }: FocusEvent): void {
    if (!(relatedTarget instanceof Node && this.host.nativeElement.contains(relatedTarget)))
      this.arming.disarm();
  }

  private clear(): void {
    const hadFocus = this.host.nativeElement.contains(document.activeElement);
    this.text.set('');
    this.replyTo.set(null);
    this.id = crypto.randomUUID();
    if (hadFocus) this.done.emit();
  }
}
