import { computed, inject, Injectable } from '@angular/core';
import { readDressings, type Dressings as All } from '@juncta/contract/dressing';
import { PLAIN_DRESSING, type Dressing } from '@juncta/core/dressing';
import { map } from 'rxjs';
import { Api } from '../api/api';
import { EventFeed } from '../api/event-feed';
import { Followed } from '../api/followed';

/** How programmes look, as the server has it: known once somebody asked, and followed from then on. */
@Injectable({ providedIn: 'root' })
export class Dressings {
  private readonly api = inject(Api);
  private readonly followed = new Followed(inject(EventFeed), {
    who: 'dressings',
    stream: 'shows',
    read: () => this.api.call(readDressings).pipe(map(({ seq, ...value }) => ({ value, seq }))),
    told: (event) => (event.type === 'dressings.changed' ? event.payload.dressings : undefined),
  });

  /** Null: not known yet. */
  readonly all = this.followed.value;
  readonly plain = computed(() => this.all()?.team.dressing ?? PLAIN_DRESSING);

  /** Of a show of this series: its own, or the team's; the plain one while nothing is known. */
  of(seriesId: string | null): Dressing {
    const series = seriesId === null ? undefined : this.all()?.bySeries[seriesId];
    return series?.dressing ?? this.plain();
  }

  /** Done when they are known. Asked again, they are read again only after a sign-out. */
  follow(): Promise<void> {
    return this.followed.follow();
  }

  /** As an answer of the server says. */
  put(all: All): void {
    this.followed.put(all);
  }
}
