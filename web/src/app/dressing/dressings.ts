import { computed, inject, Injectable, signal } from '@angular/core';
import { readDressings, type Dressings as All } from '@juncta/contract/dressing';
import { PLAIN_DRESSING, type Dressing } from '@juncta/core/dressing';
import { firstValueFrom, retry, timer } from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';

const FOLLOWER = 'dressings';
/** It could not be read: so long later it is tried again. */
const AGAIN_MS = 2000;

/** How programmes look, as the server has it: known once somebody asked, and followed from then on. */
@Injectable({ providedIn: 'root' })
export class Dressings {
  private readonly api = inject(Api);
  private readonly feed = inject(EventFeed);
  private readonly known = signal<All | null>(null);
  private reading: Promise<void> | null = null;

  /** Null: not known yet. */
  readonly all = this.known.asReadonly();
  readonly plain = computed(() => this.known()?.team.dressing ?? PLAIN_DRESSING);

  /** Of a show of this series: its own, or the team's; the plain one while nothing is known. */
  of(seriesId: string | null): Dressing {
    const series = seriesId === null ? undefined : this.known()?.bySeries[seriesId];
    return series?.dressing ?? this.plain();
  }

  /** Done when they are known. Asked again, they are read again only after a sign-out. */
  follow(): Promise<void> {
    if (this.known() !== null && this.feed.follows(FOLLOWER)) return Promise.resolve();
    return (this.reading ??= this.read().finally(() => (this.reading = null)));
  }

  /** As an answer of the server says. */
  put(all: All): void {
    this.known.set(all);
  }

  private async read(): Promise<void> {
    const asked = this.api.call(readDressings).pipe(retry({ delay: () => timer(AGAIN_MS) }));
    const { seq, ...all } = await firstValueFrom(asked);
    this.known.set(all);
    const afresh = () => void this.read();
    this.feed.follow(FOLLOWER, 'shows', seq, afresh, (event) => {
      if (event.type === 'dressings.changed') this.known.set(event.payload.dressings);
    });
  }
}
