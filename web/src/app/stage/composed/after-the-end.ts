import { effect, inject, Injectable, untracked } from '@angular/core';
import { Store } from '@ngrx/store';
import { showsFeature } from '../../shows/shows.feature';
import { ComposingDesk } from '../composing-desk';

/** Once the show that this tab composes has ended, everybody is off the stage, whatever page is looked at. */
@Injectable({ providedIn: 'root' })
export class AfterTheEnd {
  private before: { readonly showId: string; readonly over: boolean } | null = null;

  constructor() {
    const composing = inject(ComposingDesk);
    const entities = inject(Store).selectSignal(showsFeature.selectEntities);
    effect(() => {
      const showId = composing.showId();
      const show = showId === null ? undefined : entities()[showId];
      if (!show) return;
      const now = { showId: show.id, over: show.endedAtMs !== null };
      const hasEnded = this.before?.showId === now.showId && !this.before.over && now.over;
      this.before = now;
      if (hasEnded) untracked(() => composing.emptyStage());
    });
  }
}
