import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { ReactiveFormsModule, type FormControl } from '@angular/forms';
import { FieldProblem } from './field-problem';

/** A labelled input of one line, with its hint and what is wrong with it tied to it for screen readers. */
@Component({
  selector: 'jn-text-field',
  imports: [FieldProblem, ReactiveFormsModule],
  template: `
    <div class="field">
      <label [attr.for]="fieldId()">{{ label() }}</label>
      <input
        class="input"
        [id]="fieldId()"
        [type]="type()"
        [formControl]="control()"
        [attr.autocomplete]="autocomplete()"
        [attr.maxlength]="maxLength()"
        [attr.aria-invalid]="problem() ? true : null"
        [attr.aria-describedby]="fieldId() + '-hint ' + fieldId() + '-problem'"
      />
      @if (hint()) {
        <span class="hint" [id]="fieldId() + '-hint'">{{ hint() }}</span>
      }
      <jn-problem [fieldId]="fieldId()" [sentence]="problem()" />
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TextField {
  readonly fieldId = input.required<string>();
  readonly label = input.required<string>();
  readonly control = input.required<FormControl<string>>();
  readonly type = input<'text' | 'email' | 'password'>('text');
  /** What the browser may fill in, in the words of the HTML standard: `username`, `new-password`. */
  readonly autocomplete = input('off');
  /** In UTF-16 code units; null: no limit here. */
  readonly maxLength = input<number | null>(null);
  readonly hint = input('');
  /** What is wrong, in a sentence; null while nothing is. */
  readonly problem = input<string | null>(null);
}
