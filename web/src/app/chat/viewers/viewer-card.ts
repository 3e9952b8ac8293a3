import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { NOTE_MAX, noteViewer, readViewer, type ChatMessage, type ViewerCard } from '@juncta/contract/chat';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { ChatActions } from '../chat.actions';
import { viewerTexts } from '../chat.texts';

/** Whoever wrote a message: the shows in which they wrote before, and what the team keeps in mind about them. */
@Component({
  selector: 'jn-viewer-card',
  imports: [Key, Notice],
  template: `
    @if (request.error(); as error) {
      <jn-notice kind="wrong">{{ error.fields?.[0]?.sentence ?? error.sentence }}</jn-notice>
    }
    @if (card(); as card) {
      <p class="soft">
        {{ account() }}
        @if (card.hidden > 0) {
          {{ texts.hidden(card.hidden) }}
        }
      </p>
      @if (card.shows.length > 0) {
        <ul class="plain">
          @for (one of card.shows; track one.showId) {
            <li>
              <span class="clip">{{ one.title }}</span>
              <span class="soft">{{ texts.wrote(one.messages) }}</span>
            </li>
          }
        </ul>
      } @else {
        <p class="soft">{{ texts.neverBefore }}</p>
      }
      <form (submit)="save($event, note.value)">
        <label [for]="'note-' + message().id">{{ texts.note }}</label>
        <textarea
          #note
          class="input"
          rows="2"
          [id]="'note-' + message().id"
          [maxLength]="noteMax"
          [value]="card.note?.note ?? ''"
          (input)="told.set(null)"
        ></textarea>
        <span class="row">
          <button jnKey type="submit" [disabled]="request.busy()">{{ texts.keep }}</button>
          <span class="soft" role="status">{{ told() ?? (card.note ? texts.by(card.note.by) : '') }}</span>
        </span>
      </form>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      padding: var(--space-2);
      border: 1px solid var(--rule);
    }
    p {
      margin: 0;
    }
    li,
    .row {
      display: flex;
      gap: var(--space-2);
      align-items: center;
      justify-content: space-between;
    }
    form {
      display: grid;
      gap: 0.2rem;
    }
    textarea {
      resize: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ViewerCardPanel {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = viewerTexts;
  protected readonly noteMax = NOTE_MAX;

  readonly message = input.required<ChatMessage>();

  protected readonly card = signal<ViewerCard | null>(null);
  protected readonly request = new RequestState();
  protected readonly told = signal<string | null>(null);
  protected readonly account = computed(() => {
    const { badges, accountDays } = this.message().author;
    const age = accountDays === null ? [] : [viewerTexts.account(accountDays)];
    return [...badges, ...age].join(' · ');
  });
  private readonly params = computed(
    () => ({ showId: this.message().showId, messageId: this.message().id }),
    { equal: (a, b) => a.messageId === b.messageId },
  );

  constructor() {
    effect(() => {
      const params = this.params();
      untracked(() => {
        this.card.set(null);
        this.request.run(this.api.call(readViewer, { params }), (card) => this.card.set(card));
      });
    });
  }

  protected save(event: Event, text: string): void {
    event.preventDefault();
    this.request.run(
      this.api.call(noteViewer, { params: this.params(), body: { note: text } }),
      ({ note }) => {
        this.card.update((card) => card && { ...card, note: note.note === '' ? null : note });
        this.told.set(note.note === '' ? viewerTexts.dropped : viewerTexts.kept);
        this.store.dispatch(ChatActions.viewerNoted({ note }));
      },
    );
  }
}
