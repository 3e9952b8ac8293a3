import { inject, Injectable } from '@angular/core';
import { ALL_SHOWS } from '@juncta/contract/shows';
import { readLayouts, type KeptLayout } from '@juncta/contract/stage';
import { map } from 'rxjs';
import { Api } from '../../api/api';
import { EventFeed } from '../../api/event-feed';
import { Followed } from '../../api/followed';

/** The layouts that the team made, as the server has them: known once somebody asked, and followed from then on. */
@Injectable({ providedIn: 'root' })
export class OwnLayouts {
  private readonly api = inject(Api);
  private readonly followed = new Followed(inject(EventFeed), {
    who: 'layouts',
    stream: 'shows',
    read: () => this.api.call(readLayouts).pipe(map(({ layouts, seq }) => ({ value: layouts, seq }))),
    told: (event): readonly KeptLayout[] | undefined =>
      event.type === 'layouts.changed' ? event.payload.layouts : undefined,
  });

  follow(): Promise<void> {
    return this.followed.follow();
  }

  /** Of a show of this series: its own first, and then those for all shows. */
  of(seriesId: string | null): readonly KeptLayout[] {
    const all = this.followed.value() ?? [];
    return [
      ...all.filter(({ scope }) => seriesId !== null && scope === seriesId),
      ...all.filter(({ scope }) => scope === ALL_SHOWS),
    ];
  }
}
