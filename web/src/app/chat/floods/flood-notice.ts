import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Store } from '@ngrx/store';
import { Key } from '../../look/keys/key';
import { listingsFeature } from '../../listings/listings.feature';
import { ChatActions } from '../chat.actions';
import { chatFeature } from '../chat.feature';
import { floodTexts } from '../chat.texts';

/**
 * A flood that was noticed, with the one step that answers it and the one that takes this back. One that was answered
 * stays in sight until somebody has seen that it is over, because it may turn out to have been none.
 */
@Component({
  selector: 'jn-flood-notice',
  imports: [Key],
  template: `
    @for (flood of floods(); track flood.id) {
      <section class="flood" [class.calm]="flood.aside" role="status">
        <p>
          <strong>{{ flood.title }}</strong>
          <span>{{ flood.size }}</span>
        </p>
        <ul class="plain samples" [attr.aria-label]="texts.samples">
          @for (sample of flood.samples; track sample) {
            <li>
              <q class="clip">{{ sample }}</q>
            </li>
          }
        </ul>
        @if (flood.aside && flood.coming) {
          <span class="soft">{{ texts.more }}</span>
        }
        @if (mayWrite()) {
          <span class="keys">
            @if (flood.aside) {
              <button jnKey type="button" [disabled]="busy()" (click)="answer(flood.id, 'let_be')">
                {{ texts.takeBack }}
              </button>
              @if (!flood.coming) {
                <button jnKey type="button" (click)="putAway(flood.id)">{{ texts.putAway }}</button>
              }
            } @else {
              <button jnKey type="button" lamp="lit" [disabled]="busy()" (click)="answer(flood.id, 'aside')">
                {{ texts.setAside }}
              </button>
              <button jnKey type="button" [disabled]="busy()" (click)="answer(flood.id, 'let_be')">
                {{ texts.letBe }}
              </button>
            }
          </span>
        }
      </section>
    }
  `,
  styles: `
    .flood {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: var(--space-1);
      padding: var(--space-2) var(--space-3);
      border-left: 4px solid var(--saffron-text);
      background: var(--raised);
      line-height: 1.3;
    }
    .calm {
      border-left-color: var(--rule);
    }
    p {
      display: flex;
      flex-wrap: wrap;
      gap: 0 var(--space-2);
      margin: 0;
    }
    q {
      display: block;
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FloodNotice {
  private readonly store = inject(Store);
  protected readonly texts = floodTexts;

  readonly showId = input.required<string>();
  readonly mayWrite = input.required<boolean>();

  protected readonly busy = this.store.selectSignal(chatFeature.selectBusy);
  private readonly known = this.store.selectSignal(chatFeature.selectFloods);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
  private readonly seen = signal<ReadonlySet<string>>(new Set());
  protected readonly floods = computed(() => {
    const putAway = this.seen();
    const places = new Map(this.destinations().map(({ id, rules }) => [id, rules.place]));
    return this.known()
      .filter(({ id, answer }) => answer !== 'let_be' && !putAway.has(id))
      .map(({ id, endedMs, messages, writers, destinationIds, samples, answer }) => ({
        id,
        samples,
        aside: answer === 'aside',
        coming: endedMs === null,
        title: answer === 'aside' ? floodTexts.aside : endedMs === null ? floodTexts.coming : floodTexts.came,
        size: floodTexts.size(
          messages,
          writers,
          [...new Set(destinationIds.map((one) => places.get(one) ?? ''))].join(', '),
        ),
      }));
  });

  /** Here only: the others have their own eyes. */
  protected putAway(floodId: string): void {
    this.seen.update((seen) => new Set([...seen, floodId]));
  }

  protected answer(floodId: string, answer: 'aside' | 'let_be'): void {
    this.store.dispatch(ChatActions.answerFlood({ showId: this.showId(), floodId, answer }));
  }
}
