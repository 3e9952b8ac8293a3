import { computed, effect, inject, Injectable, linkedSignal, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { readChat, type OnProgramme } from '@juncta/contract/chat';
import type { Destination } from '@juncta/contract/destinations';
import { Actions, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, EMPTY, filter, map, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { ComposingDesk } from '../../stage/composing-desk';
import { programmeFeature } from '../../programme/programme.feature';
import { ChatActions } from '../chat.actions';

/**
 * The viewers' message on the programme that this tab composes. It is followed for as long as the tab composes, whatever
 * page is shown and whatever show that page is about: a message that somebody hides must leave the picture at once.
 */
@Injectable({ providedIn: 'root' })
export class ProgrammeMessages {
  private readonly composing = inject(ComposingDesk);
  private readonly api = inject(Api);
  private readonly store = inject(Store);

  /** `untilMs`: by this page's own clock. Null: nothing is on. */
  private readonly set = signal<{ showId: string; message: OnProgramme; untilMs: number } | null>(null);
  private readonly relayShowId = this.store.selectSignal(programmeFeature.selectShowId);
  private readonly relayDestinations = this.store.selectSignal(programmeFeature.selectDestinations);
  /** Of the composed show, as they were when its desk was looked at last. */
  private readonly destinations = linkedSignal<
    { isOurs: boolean; all: readonly Destination[] },
    readonly Destination[]
  >({
    source: () => ({
      isOurs: this.relayShowId() === this.composing.showId(),
      all: this.relayDestinations(),
    }),
    computation: ({ isOurs, all }, before) => (isOurs ? all : (before?.value ?? [])),
  });
  private readonly isComposing = computed(() => this.composing.status() === 'composing');

  constructor() {
    const actions = inject(Actions);
    const isOurs = ({ showId }: { showId: string }) => showId === this.composing.showId();
    actions
      .pipe(ofType(ChatActions.programmeSet, ChatActions.known), takeUntilDestroyed())
      .subscribe(({ showId, onProgramme, atMs }) => {
        if (isOurs({ showId })) this.take(showId, onProgramme, atMs);
      });
    // The chat of another show was read, which is how following goes on after a break: what ours missed is asked for.
    actions
      .pipe(
        ofType(ChatActions.known),
        filter((known) => !isOurs(known) && this.isComposing()),
        map(() => this.composing.showId()!),
        switchMap((showId) =>
          this.api.call(readChat, { params: { showId } }).pipe(
            map(({ onProgramme }) => ({ showId, onProgramme })),
            catchError(() => EMPTY),
          ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ showId, onProgramme }) => this.take(showId, onProgramme, performance.now()));
    effect(() => {
      const set = this.set();
      const showId = this.composing.showId();
      if (!this.isComposing()) return;
      untracked(() => this.show(set?.showId === showId ? set : null));
    });
  }

  private take(showId: string, message: OnProgramme | null, atMs: number): void {
    this.set.set(message && { showId, message, untilMs: atMs + message.remainingMs });
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
