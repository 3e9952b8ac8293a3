import { signal, type Signal } from '@angular/core';
import type { StreamEvent, StreamName, TopicOf } from '@juncta/contract/events';
import { firstValueFrom, retry, timer, type Observable } from 'rxjs';
import type { EventFeed } from './event-feed';

/** It could not be read: so long later it is tried again. */
const AGAIN_MS = 2000;

export interface FollowedSource<T, S extends StreamName> {
  /** Nobody else follows by this name. */
  readonly who: string;
  readonly stream: S;
  readonly read: () => Observable<{ readonly value: T; readonly seq: number }>;
  /** What an event says of it; undefined: nothing. */
  readonly told: (event: StreamEvent<TopicOf<S>>) => T | undefined;
}

/** Something of the house's as the server has it: known once somebody asked, and followed from then on. */
export class Followed<T, S extends StreamName> {
  private readonly known = signal<T | null>(null);
  private reading: Promise<void> | null = null;

  /** Null: not known yet. */
  readonly value: Signal<T | null> = this.known.asReadonly();

  constructor(
    private readonly feed: EventFeed,
    private readonly source: FollowedSource<T, S>,
  ) {}

  /** Done when it is known. Asked again, it is read again only after a sign-out. */
  follow(): Promise<void> {
    if (this.known() !== null && this.feed.follows(this.source.who)) return Promise.resolve();
    return (this.reading ??= this.read().finally(() => (this.reading = null)));
  }

  /** As an answer of the server says. */
  put(value: T): void {
    this.known.set(value);
  }

  private async read(): Promise<void> {
    const { who, stream, read, told } = this.source;
    const { value, seq } = await firstValueFrom(read().pipe(retry({ delay: () => timer(AGAIN_MS) })));
    this.known.set(value);
    this.feed.follow(
      who,
      stream,
      seq,
      () => void this.read(),
      (event) => {
        const now = told(event);
        if (now !== undefined) this.known.set(now);
      },
    );
  }
}
