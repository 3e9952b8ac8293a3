import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Store } from '@ngrx/store';
import { Key } from '../../look/keys/key';
import { teamFeature } from '../../team/team.feature';
import { ChatActions } from '../chat.actions';
import { chatFeature } from '../chat.feature';
import { chatTexts } from '../chat.texts';

/** What only the host has to know of: a line, without a sound, until they have seen it. */
@Component({
  selector: 'jn-for-host',
  imports: [Key],
  template: `
    @if (first(); as first) {
      <p>
        <span class="label">{{ texts.forYou }}</span>
        <span class="clip"
          ><strong>{{ first.message.author.name }}</strong> {{ first.message.text }}</span
        >
        @if (first.more > 0) {
          <span class="soft">{{ texts.behind(first.more) }}</span>
        }
        <button jnKey type="button" [disabled]="busy()" (click)="seen(first.message.id)">
          {{ texts.seenByHost }}
        </button>
      </p>
    }
  `,
  styles: `
    p {
      display: flex;
      gap: var(--space-2);
      align-items: center;
      margin: 0 0 var(--space-2);
      padding: 0.2rem 0.4rem;
      border-left: 3px solid var(--saffron);
      background: var(--raised);
    }
    .clip {
      flex: 1;
      min-width: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { 'aria-live': 'polite' },
})
export class ForHost {
  private readonly store = inject(Store);
  protected readonly texts = chatTexts;

  readonly showId = input.required<string>();

  private readonly messages = this.store.selectSignal(chatFeature.selectMessages);
  private readonly me = this.store.selectSignal(teamFeature.selectMember);
  protected readonly busy = this.store.selectSignal(chatFeature.selectBusy);
  protected readonly first = computed(() => {
    if (this.me()?.role !== 'host') return null;
    const told = this.messages().filter(({ forHost }) => forHost === 'told');
    const [message] = told;
    return message ? { message, more: told.length - 1 } : null;
  });

  protected seen(messageId: string): void {
    this.store.dispatch(ChatActions.moderate({ showId: this.showId(), messageId, act: 'host_seen' }));
  }
}
