import {
  computed,
  DestroyRef,
  effect,
  inject,
  Injectable,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { readChat, type OnProgramme } from '@juncta/contract/chat';
import type { Destination } from '@juncta/contract/destinations';
import { streamOf } from '@juncta/contract/events';
import { Store } from '@ngrx/store';
import { retry, type Subscription } from 'rxjs';
import { Api } from '../../api/api';
import { EventFeed } from '../../api/event-feed';
import { listingsFeature } from '../../listings/listings.feature';
import { ComposingDesk } from '../../stage/composing-desk';

const FOLLOWER = 'the composed show’s chat';
/** It could not be read: so long later it is tried again. */
const AGAIN_MS = 2000;

/**
 * The viewers' message on the programme that this tab composes. It is followed for as long as the tab composes, whatever
 * page is shown and whatever show that page is about: a message that somebody hides must leave the picture at once.
 */
@Injectable({ providedIn: 'root' })
export class ProgrammeMessages {
  private readonly composing = inject(ComposingDesk);
  private readonly api = inject(Api);
  private readonly feed = inject(EventFeed);
  private readonly store = inject(Store);

  /** `untilMs`: by this page's own clock. Null: nothing is on. */
  private readonly set = signal<{ message: OnProgramme; untilMs: number } | null>(null);
  private reading: Subscription | undefined;
  private readonly listedShowId = this.store.selectSignal(listingsFeature.selectShowId);
  private readonly listedDestinations = this.store.selectSignal(listingsFeature.selectDestinations);
  /** Of the composed show, as they were when its desk was looked at last. */
  private readonly destinations = linkedSignal<
    { isOurs: boolean; all: readonly Destination[] },
    readonly Destination[]
  >({
    source: () => ({
      isOurs: this.listedShowId() === this.composing.showId(),
      all: this.listedDestinations(),
    }),
    computation: ({ isOurs, all }, before) => (isOurs ? all : (before?.value ?? [])),
  });
  private readonly isComposing = computed(() => this.composing.status() === 'composing');

  constructor() {
    inject(DestroyRef).onDestroy(() => this.feed.unfollow(FOLLOWER));
    effect(() => {
      const showId = this.isComposing() ? this.composing.showId() : null;
      untracked(() => this.follow(showId));
    });
    effect(() => {
      const set = this.set();
      if (!this.isComposing()) return;
      untracked(() => this.show(set));
    });
  }

  /** Apart from the chat that is looked at, which may be another show's. */
  private follow(showId: string | null): void {
    this.reading?.unsubscribe();
    this.feed.unfollow(FOLLOWER);
    if (showId === null) {
      this.set.set(null);
      return;
    }
    this.reading = this.api
      .call(readChat, { params: { showId } })
      .pipe(retry({ delay: AGAIN_MS }))
      .subscribe(({ onProgramme, seq }) => {
        this.take(onProgramme);
        const afresh = () => this.follow(showId);
        this.feed.follow(FOLLOWER, streamOf('chat', showId), seq, afresh, (event) => {
          if (event.type === 'programme.set') this.take(event.payload.onProgramme);
        });
      });
  }

  private take(message: OnProgramme | null): void {
    // At once, and not when this page is drawn next: it may be behind others.
    if (message === null && this.set() !== null) this.composing.showMessage(null);
    this.set.set(message && { message, untilMs: performance.now() + message.remainingMs });
  }

  private show(set: { message: OnProgramme; untilMs: number } | null): void {
    const forMs = set ? set.untilMs - performance.now() : 0;
    if (!set || forMs <= 0) {
      this.composing.showMessage(null);
      return;
    }
    const { author, text, destinationId } = set.message;
    const place = this.destinations().find(({ id }) => id === destinationId)?.rules.place ?? '';
    this.composing.showMessage({ author, text, place, forMs });
  }
}
