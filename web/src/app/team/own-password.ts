import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { PASSWORD_MIN } from '@juncta/core/team';
import { changePassword } from '@juncta/contract/team';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { TextField } from '../look/text-field';
import { invitationTexts, passwordTexts } from './team.texts';

/** Changing one's own password, which ends one's other sessions. */
@Component({
  selector: 'jn-own-password',
  imports: [Key, Notice, ReactiveFormsModule, TextField],
  template: `
    <section class="panel" aria-labelledby="password-title">
      <form class="stack" [formGroup]="form" (ngSubmit)="change()">
        <h2 id="password-title">{{ texts.title }}</h2>
        @if (changed()) {
          <jn-notice>{{ texts.changed }}</jn-notice>
        }
        @if (request.error(); as error) {
          @if (!error.fields) {
            <jn-notice kind="wrong">{{ error.sentence }}</jn-notice>
          }
        }
        <jn-text-field
          fieldId="current"
          type="password"
          autocomplete="current-password"
          [label]="texts.current"
          [control]="form.controls.current"
          [problem]="problem('current')"
        />
        <jn-text-field
          fieldId="password"
          type="password"
          autocomplete="new-password"
          [label]="texts.next"
          [control]="form.controls.password"
          [hint]="hint"
          [problem]="problem('password')"
        />
        <div>
          <button jnKey type="submit">{{ texts.change }}</button>
        </div>
      </form>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OwnPassword {
  private readonly api = inject(Api);
  protected readonly texts = passwordTexts;
  protected readonly hint = invitationTexts.passwordHint(PASSWORD_MIN);
  protected readonly changed = signal(false);
  protected readonly request = new RequestState();

  protected readonly form = new FormGroup({
    current: new FormControl('', { nonNullable: true }),
    password: new FormControl('', { nonNullable: true }),
  });

  protected change(): void {
    this.changed.set(false);
    this.request.run(this.api.call(changePassword, { body: this.form.getRawValue() }), () => {
      this.changed.set(true);
      this.form.reset();
    });
  }

  protected problem(field: string): string | null {
    return this.request.fieldError(field);
  }
}
