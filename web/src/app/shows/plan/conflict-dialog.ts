import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import type { ShowText } from '@juncta/contract/shows';
import { NgbActiveModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Store } from '@ngrx/store';
import { TimeFormat } from '../../clock/time-format';
import { Key } from '../../look/keys/key';
import { showsFeature } from '../shows.feature';
import { conflictTexts, fieldNames, partNames, showTexts } from '../shows.texts';

export interface Conflict {
  readonly fields: readonly (keyof ShowText)[];
  readonly mine: ShowText;
  readonly theirs: ShowText;
  readonly who: string;
}

/** Two people changed the same entries: both are shown, and one is chosen for each. Closes with the fields to be mine. */
@Component({
  selector: 'jn-conflict-dialog',
  imports: [Key],
  templateUrl: './conflict-dialog.html',
  styleUrl: './conflict-dialog.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConflictDialog {
  private readonly active = inject(NgbActiveModal);
  private readonly format = inject(TimeFormat);
  private readonly series = inject(Store).selectSignal(showsFeature.selectSeries);
  protected readonly texts = conflictTexts;
  protected readonly names = fieldNames;

  readonly conflict = signal<Conflict | null>(null);
  /** The fields for which theirs was chosen. At first none: whoever saves meant what they wrote. */
  protected readonly theirsChosen = signal<ReadonlySet<keyof ShowText>>(new Set());

  protected choose(field: keyof ShowText, theirs: boolean): void {
    const chosen = new Set(this.theirsChosen());
    if (theirs) chosen.add(field);
    else chosen.delete(field);
    this.theirsChosen.set(chosen);
  }

  protected save(): void {
    this.active.close(this.conflict()!.fields.filter((field) => !this.theirsChosen().has(field)));
  }

  protected cancel(): void {
    this.active.dismiss();
  }

  /** An entry in words. */
  protected told(field: keyof ShowText, text: ShowText): string {
    switch (field) {
      case 'title':
      case 'description':
        return text[field] || conflictTexts.empty;
      case 'plannedMinutes':
        return this.format.length(text.plannedMinutes);
      case 'seriesId':
        return this.series().find(({ id }) => id === text.seriesId)?.name ?? showTexts.noSeries;
      case 'start':
        return text.start ? `${text.start.local.replace('T', ' ')} ${text.start.zone}` : showTexts.clear;
      case 'people':
        return (
          text.people.map(({ name, part }) => `${name} (${partNames[part]})`).join('\n') ||
          conflictTexts.empty
        );
    }
  }
}
