import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { outsideSource } from '@juncta/core/stage';
import { Store } from '@ngrx/store';
import { Key } from '../look/keys/key';
import { programmeFeature } from '../programme/programme.feature';
import { StageLink } from '../stage/stage-link';
import { WhoComposes } from '../stage/who-composes';
import { ingestTexts } from './ingest.texts';
import { ShowInputs } from './show-inputs';

/** On the desk: what comes from outside and may be taken, and the way back to what the desk composes. */
@Component({
  selector: 'jn-outside-keys',
  imports: [Key, RouterLink],
  template: `
    @if (taken(); as taken) {
      <p role="status">{{ state.isOn() ? texts.fromOutside(taken.name) : texts.comesOn(taken.name) }}</p>
      <button
        jnKey
        type="button"
        [title]="texts.toDeskText"
        [disabled]="state.request.busy()"
        (click)="state.take(null)"
      >
        {{ texts.toDesk }}
      </button>
    }
    @for (one of here(); track one.id) {
      <button
        jnKey
        type="button"
        [title]="texts.takeText"
        [disabled]="!one.fits || state.request.busy()"
        (click)="state.take(one.id)"
      >
        {{ texts.takeNamed(one.name) }}
      </button>
      @if (composed() && !one.isOnStage) {
        <button jnKey type="button" [title]="texts.toStageText" (click)="toStage(one.id)">
          {{ texts.toStageNamed(one.name) }}
        </button>
      }
    }
    <a jnKey [routerLink]="['/shows', showId(), 'ingest']">{{ texts.title }}</a>
    @if (state.request.error(); as error) {
      <p role="alert" class="wrong">{{ error.sentence }}</p>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: center;
    }
    p {
      margin: 0;
    }
    .wrong {
      color: var(--wrong);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutsideKeys {
  private readonly programme = inject(Store).selectSignal(programmeFeature.selectProgramme);
  protected readonly state = inject(ShowInputs);
  protected readonly texts = ingestTexts;

  readonly showId = input.required<string>();
  protected readonly taken = this.state.taken;
  protected readonly here = computed(() =>
    (this.state.inputs() ?? []).flatMap(({ id, name, onArrival }) => {
      const report = this.state.reportOf(id);
      if (!report?.figures || onArrival === 'test_only' || id === this.taken()?.id) return [];
      const isOnStage = this.stage.stage().outside.some(({ inputId }) => inputId === id);
      return { id, name, fits: report.carriage !== null, isOnStage };
    }),
  );
  private readonly stage = inject(StageLink);
  /** There is a desk that can have them on its stage. */
  protected readonly composed = inject(WhoComposes).isAnywhere;
  /** Which there are, told by the relay: another list is read afresh. */
  private readonly ids = computed(() =>
    (this.programme()?.inputs ?? []).map(({ inputId }) => inputId).join(' '),
  );

  constructor() {
    effect(() => {
      const [showId, ids] = [this.showId(), this.ids()];
      if (ids !== '') untracked(() => this.state.read(showId));
    });
  }

  protected toStage(inputId: string): void {
    this.stage.do({ type: 'outside', inputId, source: outsideSource(inputId) });
  }
}
