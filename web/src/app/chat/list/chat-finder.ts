import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { ANYTHING, type ChatQuery } from '@juncta/contract/chat';
import { Store } from '@ngrx/store';
import { Key } from '../../look/keys/key';
import { listingsFeature } from '../../listings/listings.feature';
import { ChatActions } from '../chat.actions';
import { chatFeature } from '../chat.feature';
import { finderTexts } from '../chat.texts';

const MINUTE_MS = 60_000;
/** Typing goes on: asked for only once it rests for this long. */
const REST_MS = 250;
const KINDS = [
  'viewers',
  'house',
  'questions',
  'answered',
  'first',
  'private',
  'events',
  'not_shown',
] as const;

/** Looks for messages among all of a show, also those that the page does not hold. */
@Component({
  selector: 'jn-chat-finder',
  imports: [Key],
  template: `
    <form role="search" [attr.aria-label]="texts.title" (submit)="$event.preventDefault()">
      <label>
        {{ texts.text }}
        <input
          #text
          type="search"
          class="input"
          maxlength="200"
          (input)="type(text.value)"
          (keydown.escape)="close()"
        />
      </label>
      <label>
        {{ texts.place }}
        <select #place class="input" (change)="ask({ destinationId: place.value || null })">
          <option value="">{{ texts.everywhere }}</option>
          @for (destination of destinations(); track destination.id) {
            <option [value]="destination.id">{{ destination.name }}</option>
          }
        </select>
      </label>
      <label>
        {{ texts.kind }}
        <select #kind class="input" (change)="ask({ kind: $any(kind.value) || null })">
          <option value="">{{ texts.kinds.any }}</option>
          @for (one of kinds; track one) {
            <option [value]="one">{{ texts.kinds[one] }}</option>
          }
        </select>
      </label>
      <label>
        {{ texts.from }}
        <input
          #from
          type="number"
          min="0"
          class="input"
          (change)="ask({ fromShowTimeMs: from.value === '' ? null : minutes(from.value) })"
        />
      </label>
      <span class="soft" role="status">{{ said() }}</span>
      <button jnKey type="button" (click)="close()">{{ texts.close }}</button>
    </form>
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(7rem, 1fr));
      gap: var(--space-2);
      align-items: end;
      padding-block: var(--space-2);
    }
    label {
      display: grid;
      gap: 0.2rem;
      min-width: 0;
      font-size: 0.9rem;
    }
    button {
      justify-self: end;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatFinder {
  private readonly store = inject(Store);
  protected readonly texts = finderTexts;
  protected readonly kinds = KINDS;

  readonly showId = input.required<string>();
  readonly closed = output();

  protected readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
  private readonly found = this.store.selectSignal(chatFeature.selectFound);
  private readonly query = signal<ChatQuery>(ANYTHING);
  private resting: ReturnType<typeof setTimeout> | undefined;
  protected readonly said = computed(() => {
    const found = this.found();
    if (!found?.messages) return '';
    const { messages, more } = found;
    return messages.length === 0 ? finderTexts.nothing : finderTexts.found(messages.length, more);
  });

  protected type(text: string): void {
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.ask({ text }), REST_MS);
  }

  protected ask(change: Partial<ChatQuery>): void {
    const query = { ...this.query(), ...change };
    this.query.set(query);
    this.store.dispatch(ChatActions.find({ showId: this.showId(), query }));
  }

  protected minutes = (text: string): number => Math.max(0, Math.round(Number(text) * MINUTE_MS) || 0);

  protected close(): void {
    clearTimeout(this.resting);
    this.store.dispatch(ChatActions.find({ showId: this.showId(), query: null }));
    this.closed.emit();
  }
}
