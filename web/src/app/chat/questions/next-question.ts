import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { type ChatAct, readingSeconds } from '@juncta/core/chat';
import { Store } from '@ngrx/store';
import { Key } from '../../look/keys/key';
import { Tile } from '../../look/tile';
import { listingsFeature } from '../../listings/listings.feature';
import { teamFeature } from '../../team/team.feature';
import { ChatActions } from '../chat.actions';
import { chatFeature } from '../chat.feature';
import { chatTexts } from '../chat.texts';

/** The one question that is next, large: whoever hosts looks at nothing else of the chat. */
@Component({
  selector: 'jn-next-question',
  imports: [Key, Tile],
  template: `
    @if (next(); as next) {
      <p class="who">
        @if (next.destination; as destination) {
          <jn-tile [code]="destination.code" [pattern]="destination.pattern" [name]="destination.name" />
        }
        <strong class="clip">{{ next.message.author.name }}</strong>
        @if (next.behind > 0) {
          <span class="soft">{{ texts.behind(next.behind) }}</span>
        }
        @if (mayWrite()) {
          <span class="keys">
            <button jnKey type="button" [disabled]="busy()" (click)="put()">{{ texts.put }}</button>
            <button jnKey type="button" [disabled]="busy()" (click)="act('answered')">
              {{ texts.answeredNow }}
            </button>
            <button jnKey type="button" [disabled]="busy()" (click)="act('unline')">{{ texts.later }}</button>
          </span>
        }
      </p>
      <p class="text">{{ next.message.text }}</p>
    } @else {
      <p class="belongs">{{ texts.noQuestionYet }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      align-content: start;
    }
    p {
      margin: 0;
    }
    .who,
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: center;
    }
    .keys {
      margin-left: auto;
    }
    .text {
      display: -webkit-box;
      overflow: hidden;
      -webkit-box-orient: vertical;
      -webkit-line-clamp: 3;
      font-size: 1.35rem;
      line-height: 1.25;
      overflow-wrap: anywhere;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NextQuestion {
  private readonly store = inject(Store);
  protected readonly texts = chatTexts;

  readonly showId = input.required<string>();

  private readonly messages = this.store.selectSignal(chatFeature.selectMessages);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
  private readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly mayWrite = computed(() => this.may()('chat.write'));
  protected readonly busy = this.store.selectSignal(chatFeature.selectBusy);
  /** Lined up first, asked first. */
  protected readonly next = computed(() => {
    const lined = this.messages().filter(
      ({ question, standing }) => question === 'lined_up' && standing === 'shown',
    );
    const [message] = lined;
    if (!message) return null;
    const destination = this.destinations().find(({ id }) => id === message.destinationId) ?? null;
    return { message, destination, behind: lined.length - 1 };
  });

  protected put(): void {
    const message = this.next()?.message;
    if (!message) return;
    const seconds = readingSeconds(message.text);
    const put = { showId: this.showId(), messageId: message.id, seconds, text: null };
    this.store.dispatch(ChatActions.putOnProgramme(put));
  }

  protected act(act: ChatAct): void {
    const messageId = this.next()?.message.id;
    if (messageId) this.store.dispatch(ChatActions.moderate({ showId: this.showId(), messageId, act }));
  }
}
