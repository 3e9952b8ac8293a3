import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { PHASES, type Phase } from '@juncta/core/shows';
import { phaseNames, phaseSteps, showTexts } from '../shows.texts';

/** A show's life as a row of signs, with the one it is in: what is behind it, and what comes next. */
@Component({
  selector: 'jn-phase-steps',
  template: `
    <ol class="plain" [attr.aria-label]="texts.steps">
      @for (step of steps(); track step.phase) {
        <li
          [attr.data-place]="step.place"
          [attr.data-phase]="step.phase"
          [attr.aria-current]="step.place === 'here' ? 'step' : null"
        >
          <strong>{{ step.name }}</strong>
          <span class="task">{{ step.place === 'here' && overdue() ? late : step.task }}</span>
        </li>
      }
    </ol>
  `,
  styleUrl: './phase-steps.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PhaseSteps {
  protected readonly texts = showTexts;
  protected readonly late = phaseNames.overdue;

  readonly at = input.required<Phase>();
  readonly overdue = input(false);

  protected readonly steps = computed(() => {
    const here = PHASES.indexOf(this.at());
    return PHASES.map((phase, i) => ({
      phase,
      ...phaseSteps[phase],
      place: i < here ? 'behind' : i === here ? 'here' : 'ahead',
    }));
  });
}
