import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { PASSWORD_MIN } from '@juncta/core/team';
import type { ErrorBody } from '@juncta/contract/errors';
import { readPasswordLink } from '@juncta/contract/team';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { TextField } from '../look/text-field';
import { takeHash } from './take-hash';
import { TeamActions } from './team.actions';
import { teamFeature } from './team.feature';
import { invitationTexts, newPasswordTexts } from './team.texts';

/** Where the link leads that a producer made for somebody who cannot sign in any more. */
@Component({
  selector: 'jn-new-password-page',
  imports: [Key, Notice, ReactiveFormsModule, TextField],
  template: `
    <main>
      <div class="sign"><p class="name">Juncta</p></div>
      <div class="way">
        <h1>{{ texts.title }}</h1>
        @if (error(); as error) {
          <jn-notice kind="wrong">{{ error }}</jn-notice>
        }
        @if (owner(); as owner) {
          <p>{{ texts.intro(owner.name, owner.email) }}</p>
          <form class="stack" [formGroup]="form" (ngSubmit)="keep()">
            <jn-text-field
              fieldId="password"
              type="password"
              autocomplete="new-password"
              [label]="texts.password"
              [control]="form.controls.password"
              [hint]="hint"
              [problem]="problem()"
            />
            <div>
              <button jnKey type="submit" [first]="true" [disabled]="working()">{{ texts.submit }}</button>
            </div>
          </form>
        } @else if (!error()) {
          <p role="status">{{ texts.reading }}</p>
        }
      </div>
    </main>
  `,
  styleUrl: './door.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewPasswordPage {
  private readonly store = inject(Store);
  protected readonly texts = newPasswordTexts;
  protected readonly hint = invitationTexts.passwordHint(PASSWORD_MIN);
  protected readonly working = this.store.selectSignal(teamFeature.selectSigningIn);
  private readonly refused = this.store.selectSignal(teamFeature.selectError);

  private readonly token = takeHash();
  protected readonly owner = signal<{ readonly name: string; readonly email: string } | null>(null);
  private readonly dead = signal<string | null>(null);
  protected readonly problem = computed(
    () => this.refused()?.fields?.find(({ field }) => field === 'password')?.sentence ?? null,
  );
  protected readonly error = computed(() =>
    this.problem() ? null : (this.dead() ?? this.refused()?.sentence ?? null),
  );

  protected readonly form = new FormGroup({ password: new FormControl('', { nonNullable: true }) });

  constructor() {
    if (!this.token) {
      this.dead.set(newPasswordTexts.missing);
      return;
    }
    inject(Api)
      .call(readPasswordLink, { body: { token: this.token } })
      .subscribe({
        next: (owner) => this.owner.set(owner),
        error: (error: ErrorBody) =>
          this.dead.set(error.code === 'bad_input' ? newPasswordTexts.missing : error.sentence),
      });
  }

  protected keep(): void {
    this.store.dispatch(
      TeamActions.usePasswordLink({ body: { token: this.token, ...this.form.getRawValue() } }),
    );
  }
}
