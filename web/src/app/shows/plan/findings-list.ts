import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { Finding, FindingLevel } from '@juncta/core/shows';
import { Store } from '@ngrx/store';
import { showsFeature } from '../shows.feature';
import { boardTexts, findingSentence, levelNames } from '../shows.texts';

const SHAPES: Record<FindingLevel, string> = {
  block: 'M8 1l8 14H0z',
  warning: 'M8 0l8 8-8 8-8-8z',
  advice: 'M2 2h12v12H2zM4 4v8h8V4z',
};

/** The findings of a show, the gravest first; each with its level in word and shape. */
@Component({
  selector: 'jn-findings-list',
  template: `
    <ul class="plain">
      @for (finding of findings(); track $index) {
        <li [attr.data-level]="finding.level">
          <svg viewBox="0 0 16 16" aria-hidden="true">
            <path [attr.d]="shapes[finding.level]" fill-rule="evenodd" />
          </svg>
          <span
            ><span class="label">{{ levels[finding.level] }}</span> {{ sentence(finding) }}</span
          >
        </li>
      } @empty {
        <li class="soft">{{ nothing() }}</li>
      }
    </ul>
  `,
  styleUrl: './findings-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FindingsList {
  private readonly entities = inject(Store).selectSignal(showsFeature.selectEntities);
  protected readonly shapes = SHAPES;
  protected readonly levels = levelNames;

  readonly findings = input.required<readonly Finding[]>();
  /** What is said when there are none. */
  readonly nothing = input(boardTexts.nothingToDo);

  protected sentence(finding: Finding): string {
    const other = 'otherShowId' in finding ? this.entities()[finding.otherShowId] : null;
    return findingSentence(finding, other?.text.title ?? '');
  }
}
