import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule, Validators } from '@angular/forms';
import { listDemoAccounts, type DemoAccount } from '@juncta/contract/team';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { TextField } from '../look/text-field';
import { TeamActions } from './team.actions';
import { teamFeature } from './team.feature';
import { roleNames, roleTasks, signInTexts } from './team.texts';

/** The way in: the demo's seats where it is on, and address and password. */
@Component({
  selector: 'jn-sign-in-page',
  imports: [Key, Notice, ReactiveFormsModule, TextField],
  templateUrl: './sign-in.page.html',
  styleUrl: './door.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignInPage {
  private readonly store = inject(Store);
  protected readonly texts = signInTexts;
  protected readonly roleNames = roleNames;
  protected readonly roleTasks = roleTasks;
  protected readonly session = this.store.selectSignal(teamFeature.selectSession);
  protected readonly endedUnasked = this.store.selectSignal(teamFeature.selectEndedUnasked);
  protected readonly signingIn = this.store.selectSignal(teamFeature.selectSigningIn);
  protected readonly error = this.store.selectSignal(teamFeature.selectError);
  protected readonly accounts = signal<readonly DemoAccount[] | null>(null);

  protected readonly form = new FormGroup({
    email: new FormControl('', { nonNullable: true, validators: [Validators.required] }),
    password: new FormControl('', { nonNullable: true, validators: [Validators.required] }),
  });

  constructor() {
    inject(Api)
      .call(listDemoAccounts)
      .subscribe({
        next: ({ accounts }) => this.accounts.set(bySeat(accounts)),
        error: () => this.accounts.set([]),
      });
  }

  protected submit(): void {
    this.form.markAllAsTouched();
    if (this.form.valid) this.store.dispatch(TeamActions.signIn({ credentials: this.form.getRawValue() }));
  }

  protected enterDemo(memberId: string): void {
    this.store.dispatch(TeamActions.signInToDemo({ memberId }));
  }

  protected missing(control: 'email' | 'password', sentence: string): string | null {
    const { touched, invalid } = this.form.controls[control];
    return touched && invalid ? sentence : null;
  }
}

/** In the order in which people sit at a desk. */
function bySeat(accounts: readonly DemoAccount[]): DemoAccount[] {
  const seats = ['host', 'producer', 'moderator'];
  return [...accounts].sort((a, b) => seats.indexOf(a.role) - seats.indexOf(b.role));
}
