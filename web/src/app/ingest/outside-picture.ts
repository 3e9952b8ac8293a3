import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { stillPath } from '@juncta/contract/ingest';
import { Store } from '@ngrx/store';
import { programmeFeature } from '../programme/programme.feature';
import { ingestTexts } from './ingest.texts';

/** What viewers get, where the programme comes from outside: a picture at each of its keyframes. */
@Component({
  selector: 'jn-outside-picture',
  template: `
    @if (still(); as src) {
      <img [src]="src" [alt]="texts.programmePicture" />
    } @else {
      <p>{{ texts.noStill }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      place-items: center;
      width: 100%;
      height: 100%;
    }
    img {
      width: 100%;
      height: 100%;
      object-fit: contain;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutsidePicture {
  private readonly programme = inject(Store).selectSignal(programmeFeature.selectProgramme);
  protected readonly texts = ingestTexts;

  protected readonly still = computed(() => {
    const programme = this.programme();
    const report = programme?.inputs.find(({ inputId }) => inputId === programme.inputId);
    return programme && report?.still != null
      ? `${stillPath(programme.showId, report.inputId)}?n=${report.still}`
      : null;
  });
}
