import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** What is wrong with a field, under it. The field names it by `aria-describedby`; nothing is shown when null. */
@Component({
  selector: 'jn-problem',
  template: `
    @if (sentence()) {
      <span class="problem" [id]="fieldId() + '-problem'">{{ sentence() }}</span>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldProblem {
  readonly fieldId = input.required<string>();
  readonly sentence = input.required<string | null>();
}
