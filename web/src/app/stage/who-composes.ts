import { computed, inject, Injectable } from '@angular/core';
import { Store } from '@ngrx/store';
import { programmeFeature } from '../programme/programme.feature';
import { ComposingDesk } from './composing-desk';

/** Where the show that is looked at is composed, if it is anywhere: only then is there a picture to be changed. */
@Injectable({ providedIn: 'root' })
export class WhoComposes {
  private readonly desk = inject(ComposingDesk);
  private readonly store = inject(Store);
  private readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);
  private readonly composing = this.store.selectSignal(programmeFeature.selectComposing);

  readonly isHere = computed(() => this.desk.status() === 'composing');
  /** Whoever composes at another desk just now; null: nobody. */
  readonly elsewhere = computed(() => {
    const [composing, deskId] = [this.composing(), this.programme()?.deskId ?? null];
    return composing && deskId !== null && deskId === composing.deskId && deskId !== this.desk.deskId()
      ? composing.memberName
      : null;
  });
  readonly isAnywhere = computed(() => this.isHere() || this.elsewhere() !== null);
}
