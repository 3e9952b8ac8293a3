import { computed, inject, Injectable, signal } from '@angular/core';
import {
  bookInput,
  putInput,
  readInputs,
  removeInput,
  renewInputKey,
  runStandInEncoder,
  takeInput,
  type InputSettings,
  type StandInKind,
} from '@juncta/contract/ingest';
import type { Response } from '@juncta/contract/http';
import type { InputReport } from '@juncta/contract/relay';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ofType } from '@ngrx/effects';
import { ActionsSubject, Store } from '@ngrx/store';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { ProgrammeActions } from '../programme/programme.actions';
import { programmeFeature } from '../programme/programme.feature';
import { TeamActions } from '../team/team.actions';

/** The outside pictures of the show that is looked at: how they are set up, and what the relay says of each. */
@Injectable({ providedIn: 'root' })
export class ShowInputs {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly programme = this.store.selectSignal(programmeFeature.selectProgramme);
  private readonly known = signal<Response<typeof readInputs> | null>(null);
  private showId = '';

  readonly request = new RequestState();
  readonly inputs = computed(() => this.known()?.inputs ?? null);
  /** The team's own that are booked to another show, or to none. */
  readonly standing = computed(() => this.known()?.standing ?? []);
  readonly hasSrt = computed(() => this.known()?.hasSrt ?? false);
  readonly hasStandIns = computed(() => this.known()?.hasStandIns ?? false);
  private readonly reports = computed(
    () => new Map((this.programme()?.inputs ?? []).map((report) => [report.inputId, report])),
  );
  /** The input that is the programme, or becomes it; null: the desk makes it. */
  readonly taken = computed(() => {
    const inputId = this.programme()?.inputId ?? null;
    return this.inputs()?.find(({ id }) => id === inputId) ?? null;
  });
  readonly isOn = computed(() => {
    const taken = this.taken();
    return taken !== null && this.reportOf(taken.id)?.state === 'as_programme';
  });

  constructor() {
    // Keys are for whoever is signed in.
    inject(ActionsSubject)
      .pipe(ofType(TeamActions.signedOut), takeUntilDestroyed())
      .subscribe(() => this.known.set(null));
  }

  open(showId: string): void {
    this.store.dispatch(ProgrammeActions.opened({ showId }));
    this.read(showId);
  }

  /** Where somebody else follows the show's programme. */
  read(showId: string): void {
    if (this.showId !== showId) this.known.set(null);
    this.showId = showId;
    this.request.run(this.api.call(readInputs, { params: { showId } }), (known) => {
      if (this.showId === showId) this.known.set(known);
    });
  }

  reportOf(inputId: string): InputReport | null {
    return this.reports().get(inputId) ?? null;
  }

  put(inputId: string, body: InputSettings): void {
    this.request.run(this.api.call(putInput, { params: this.of(inputId), body }), (known) =>
      this.known.set(known),
    );
  }

  /** One of the team's own comes to this show, or leaves it. */
  book(inputId: string, isBooked: boolean): void {
    const asked = { params: this.of(inputId), body: { isBooked } };
    this.request.run(this.api.call(bookInput, asked), (known) => this.known.set(known));
  }

  renew(inputId: string): void {
    this.request.run(this.api.call(renewInputKey, { params: this.of(inputId) }), (known) =>
      this.known.set(known),
    );
  }

  remove(inputId: string): void {
    this.request.run(this.api.call(removeInput, { params: this.of(inputId) }), (known) =>
      this.known.set(known),
    );
  }

  /** Null: the desk makes the programme again. */
  take(inputId: string | null): void {
    const { showId } = this;
    this.request.run(this.api.call(takeInput, { params: { showId }, body: { inputId } }), (programme) =>
      this.store.dispatch(ProgrammeActions.programmeChanged({ programme })),
    );
  }

  standIn(inputId: string, kind: StandInKind | null): void {
    this.request.run(this.api.call(runStandInEncoder, { params: this.of(inputId), body: { kind } }));
  }

  private of(inputId: string): { showId: string; inputId: string } {
    return { showId: this.showId, inputId };
  }
}
