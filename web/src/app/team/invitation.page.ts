import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule, Validators } from '@angular/forms';
import { NAME_MAX } from '@juncta/core/shows';
import { PASSWORD_MIN, type Role } from '@juncta/core/team';
import type { ErrorBody } from '@juncta/contract/errors';
import { readInvitation } from '@juncta/contract/team';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { TextField } from '../look/text-field';
import { takeHash } from './take-hash';
import { TeamActions } from './team.actions';
import { teamFeature } from './team.feature';
import { invitationTexts, roleNames } from './team.texts';

/** Where an invitation leads: a name, an address and a password, and one is in. */
@Component({
  selector: 'jn-invitation-page',
  imports: [Key, Notice, ReactiveFormsModule, TextField],
  templateUrl: './invitation.page.html',
  styleUrl: './door.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InvitationPage {
  private readonly store = inject(Store);
  protected readonly texts = invitationTexts;
  protected readonly roleNames = roleNames;
  protected readonly nameMax = NAME_MAX;
  protected readonly passwordHint = invitationTexts.passwordHint(PASSWORD_MIN);
  protected readonly joining = this.store.selectSignal(teamFeature.selectSigningIn);
  private readonly refused = this.store.selectSignal(teamFeature.selectError);

  private readonly token = takeHash();
  protected readonly role = signal<Role | null>(null);
  private readonly dead = signal<string | null>(null);
  protected readonly fieldErrors = computed(() => this.refused()?.fields ?? []);
  protected readonly error = computed(() =>
    this.fieldErrors().length > 0 ? null : (this.dead() ?? this.refused()?.sentence ?? null),
  );

  protected readonly form = new FormGroup({
    name: new FormControl('', { nonNullable: true, validators: [Validators.required] }),
    email: new FormControl('', { nonNullable: true, validators: [Validators.required] }),
    password: new FormControl('', { nonNullable: true, validators: [Validators.required] }),
  });

  constructor() {
    if (!this.token) {
      this.dead.set(invitationTexts.missing);
      return;
    }
    inject(Api)
      .call(readInvitation, { body: { token: this.token } })
      .subscribe({
        next: ({ role }) => this.role.set(role),
        error: (error: ErrorBody) =>
          this.dead.set(error.code === 'bad_input' ? invitationTexts.missing : error.sentence),
      });
  }

  protected join(): void {
    this.store.dispatch(
      TeamActions.acceptInvitation({ body: { token: this.token, ...this.form.getRawValue() } }),
    );
  }

  protected problem(field: string): string | null {
    return this.fieldErrors().find((error) => error.field === field)?.sentence ?? null;
  }
}
