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
import { readChat, type ChatFlood, type OnProgramme } from '@juncta/contract/chat';
import type { Destination } from '@juncta/contract/destinations';
import { streamOf } from '@juncta/contract/events';
import { Store } from '@ngrx/store';
import { retry, type Subscription } from 'rxjs';
import { Api } from '../../api/api';
import { EventFeed } from '../../api/event-feed';
import { listingsFeature } from '../../listings/listings.feature';
import { PageClock } from '../../clock/page-clock';
import { ComposingDesk } from '../../stage/composing-desk';
import { StageLink } from '../../stage/stage-link';
import { ChatInPicture } from './chat-in-picture';
import { NoticesInPicture } from './notices-in-picture';

const FOLLOWER = 'the composed show’s chat';
/** So often it is looked whether a message's time has come or is over. */
const LOOK_EVERY_MS = 1000;
/** It could not be read: so long later it is tried again. */
const AGAIN_MS = 2000;

/**
 * Viewers' messages on the programme that this tab composes: the one that somebody put there, and those in their column. They
 * are followed for as long as the tab composes, whatever page is shown and whatever show that page is about: a message that
 * somebody hides must leave the picture at once.
 */
@Injectable({ providedIn: 'root' })
export class ProgrammeMessages {
  private readonly composing = inject(ComposingDesk);
  private readonly api = inject(Api);
  private readonly feed = inject(EventFeed);
  private readonly store = inject(Store);

  /** `untilMs`: by this page's own clock; infinite: until it is taken off. Null: nothing is on. */
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
  private readonly stage = inject(StageLink);
  private readonly clock = inject(PageClock);
  private readonly inPicture = new ChatInPicture({
    box: () => this.stage.stage().graphics.chat,
    nowMs: () => this.clock.now(),
    placeOf: (destinationId) => this.placeOf(destinationId),
    show: (lines, isCut) => this.composing.showChat(lines, isCut),
  });
  private readonly notices = new NoticesInPicture({
    notices: () => this.stage.stage().graphics.notices,
    placeOf: (destinationId) => this.placeOf(destinationId),
    show: (notice) => this.composing.showNotice(notice),
  });

  constructor() {
    const look = () => {
      this.inPicture.update();
      this.notices.update();
    };
    const looking = setInterval(look, LOOK_EVERY_MS);
    const following = this.stage.changed.subscribe(look);
    inject(DestroyRef).onDestroy(() => {
      this.feed.unfollow(FOLLOWER);
      clearInterval(looking);
      following.unsubscribe();
      this.inPicture.stop();
      this.notices.stop();
    });
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
      this.inPicture.stop();
      this.notices.stop();
      return;
    }
    this.reading = this.api
      .call(readChat, { params: { showId } })
      .pipe(retry({ delay: AGAIN_MS }))
      .subscribe(({ onProgramme, messages, seq }) => {
        this.take(onProgramme);
        this.inPicture.read(messages);
        this.notices.read(messages);
        const afresh = () => this.follow(showId);
        this.feed.follow(FOLLOWER, streamOf('chat', showId), seq, afresh, (event) => {
          if (event.type === 'programme.set') this.take(event.payload.onProgramme);
          if (event.type === 'messages.added') {
            this.inPicture.add(event.payload.messages);
            this.notices.add(event.payload.messages);
          }
          // Many messages stand otherwise with it: which, the server knows.
          if (event.type === 'practice.changed') afresh();
          if (event.type === 'flood.changed' && this.isAnswered(event.payload.flood)) afresh();
        });
      });
  }

  /** A flood is told of again and again while it grows; its messages stand otherwise only when somebody says what it is. */
  private isAnswered({ id, answer }: ChatFlood): boolean {
    const before = this.floods.get(id) ?? 'open';
    this.floods.set(id, answer);
    return answer !== before;
  }
  private readonly floods = new Map<string, ChatFlood['answer']>();

  private take(message: OnProgramme | null): void {
    // At once, and not when this page is drawn next: it may be behind others.
    if (message === null && this.set() !== null) this.composing.showMessage(null);
    this.set.set(message && { message, untilMs: performance.now() + (message.remainingMs ?? Infinity) });
  }

  private show(set: { message: OnProgramme; untilMs: number } | null): void {
    const forMs = set ? set.untilMs - performance.now() : 0;
    if (!set || forMs <= 0) {
      this.composing.showMessage(null);
      return;
    }
    const { author, text, destinationId } = set.message;
    this.composing.showMessage({ author, text, place: this.placeOf(destinationId), forMs });
  }

  private placeOf(destinationId: string): string {
    return this.destinations().find(({ id }) => id === destinationId)?.rules.place ?? '';
  }
}
