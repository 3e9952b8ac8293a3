import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import { adoptEvent, findRemoteEvents, type RemoteEvent } from '@juncta/contract/listings';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { PageClock } from '../../clock/page-clock';
import { TimeFormat } from '../../clock/time-format';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { ListingsActions } from '../listings.actions';
import { adoptTexts } from '../listings.texts';

/** Events that somebody made over there, one of which can be taken for this listing. */
@Component({
  selector: 'jn-adopt-event',
  imports: [Key, Notice],
  template: `
    @if (request.error(); as error) {
      <jn-notice kind="wrong">{{ error.sentence }}</jn-notice>
    }
    @if (events(); as events) {
      <ul class="plain" role="status">
        @for (event of events; track event.eventRef) {
          <li class="row-of">
            <span class="grow">
              <a [href]="event.pageUrl" target="_blank" rel="noopener noreferrer">{{ event.title }}</a>
              <span class="soft">{{ when(event) }}</span>
            </span>
            <button jnKey type="button" [attr.aria-label]="texts.takeOf(event.title)" (click)="take(event)">
              {{ texts.take }}
            </button>
          </li>
        } @empty {
          <li class="soft">{{ texts.none }}</li>
        }
      </ul>
    } @else {
      <button jnKey type="button" [lamp]="request.busy() ? 'working' : 'dark'" (click)="look()">
        {{ texts.look }}
      </button>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AdoptEvent {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly clock = inject(PageClock);
  private readonly format = inject(TimeFormat);
  protected readonly texts = adoptTexts;

  readonly showId = input.required<string>();
  readonly destinationId = input.required<string>();
  protected readonly events = signal<readonly RemoteEvent[] | null>(null);
  protected readonly request = new RequestState();

  constructor() {
    effect(() => {
      this.destinationId();
      untracked(() => {
        this.events.set(null);
        this.request.clear();
      });
    });
  }

  protected when({ startsAtMs }: RemoteEvent): string {
    if (startsAtMs === null) return this.texts.noSlot;
    return `${this.format.day(startsAtMs, this.clock.nowMs())} ${this.format.time(startsAtMs)}`;
  }

  protected look(): void {
    this.request.run(this.api.call(findRemoteEvents, { params: this.params() }), ({ events }) =>
      this.events.set(events),
    );
  }

  protected take({ eventRef }: RemoteEvent): void {
    this.request.run(this.api.call(adoptEvent, { params: this.params(), body: { eventRef } }), (listing) =>
      this.store.dispatch(ListingsActions.changed({ showId: this.showId(), listing })),
    );
  }

  private readonly params = () => ({ showId: this.showId(), destinationId: this.destinationId() });
}
