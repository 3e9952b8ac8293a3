import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NgbActiveModal } from '@ng-bootstrap/ng-bootstrap/modal';
import { Key } from '../../look/keys/key';
import type { ComposedShow, LeavingFor } from './leaving';
import { stageTexts } from '../stage.texts';

/** Asks whoever is about to end what this tab composes. Closes with true when that is meant. */
@Component({
  selector: 'jn-leave-programme',
  imports: [Key],
  template: `
    <div class="modal-header">
      <h2 id="leave-title">{{ texts.leaveTitle(title()) }}</h2>
    </div>
    <div class="modal-body stack">
      <p>{{ onAir() ? texts.leaveOnAir : texts.leaveUnaired }}</p>
      @if (otherDesk(); as address) {
        <p>
          {{ texts.leaveOtherTab }}
          <a [href]="address" target="_blank" (click)="modal.dismiss()">{{ texts.leaveOpenTab }}</a>
        </p>
      }
    </div>
    <div class="modal-footer">
      <button jnKey type="button" ngbAutofocus [first]="true" (click)="modal.dismiss()">
        {{ texts.leaveStay }}
      </button>
      <button jnKey type="button" (click)="modal.close(true)">
        {{ signsOut() ? texts.leaveSignOut : texts.leaveGoOn }}
      </button>
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LeaveProgramme {
  protected readonly modal = inject(NgbActiveModal);
  protected readonly texts = stageTexts;
  protected readonly title = signal('');
  protected readonly onAir = signal(false);
  private readonly leaving = signal<LeavingFor>({ what: 'sign_out' });
  protected readonly signsOut = computed(() => this.leaving().what === 'sign_out');
  protected readonly otherDesk = computed(() => {
    const leaving = this.leaving();
    return leaving.what === 'desk' ? `/desk/${leaving.showId}` : null;
  });

  ask(show: ComposedShow, onAir: boolean, leaving: LeavingFor): void {
    this.title.set(show.title);
    this.onAir.set(onAir);
    this.leaving.set(leaving);
  }
}
