import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NgbActiveModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { TimeFormat } from '../clock/time-format';
import { Key } from '../look/keys/key';
import { offPlanTexts } from './programme.texts';

export type OffPlanAnswer = 'drill' | 'air';

export interface OffPlanStart {
  readonly startsAtMs: number;
  readonly nowMs: number;
  /** Where it would go out. */
  readonly places: readonly string[];
  readonly canDrill: boolean;
}

/** Asks whoever starts a show on another day or at another hour than it is planned for. Closes with the answer. */
@Component({
  selector: 'jn-off-plan',
  imports: [Key],
  template: `
    <div class="modal-header">
      <h2 id="off-plan-title">{{ title() }}</h2>
    </div>
    <div class="modal-body stack">
      <p>{{ texts.airs(places()) }}</p>
      @if (start()?.canDrill) {
        <p>{{ texts.drillInstead }}</p>
      }
    </div>
    <div class="modal-footer">
      <button jnKey type="button" ngbAutofocus [first]="true" (click)="modal.dismiss()">
        {{ texts.notNow }}
      </button>
      @if (start()?.canDrill) {
        <button jnKey type="button" (click)="modal.close('drill')">{{ texts.drill }}</button>
      }
      <button jnKey type="button" (click)="modal.close('air')">{{ texts.air }}</button>
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OffPlan {
  private readonly format = inject(TimeFormat);
  protected readonly modal = inject(NgbActiveModal);
  protected readonly texts = offPlanTexts;
  protected readonly start = signal<OffPlanStart | null>(null);
  protected readonly places = computed(() => this.start()?.places.join(', ') ?? '');
  protected readonly title = computed(() => {
    const start = this.start();
    if (!start) return '';
    const { startsAtMs, nowMs } = start;
    const when = `${this.format.day(startsAtMs, nowMs)} ${this.format.time(startsAtMs)}`;
    return offPlanTexts.title(when, this.format.distance(startsAtMs, nowMs));
  });

  ask(start: OffPlanStart): void {
    this.start.set(start);
  }
}
