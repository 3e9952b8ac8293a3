import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { ROLES, type Role } from '@juncta/core/team';
import type { ErrorBody } from '@juncta/contract/errors';
import { inviteMember } from '@juncta/contract/team';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { ArmedKey } from '../look/armed-key';
import { CopyKey } from '../look/copy-key';
import { Key } from '../look/key';
import { Notice } from '../look/notice';
import { OwnPassword } from './own-password';
import { TeamActions } from './team.actions';
import { teamFeature } from './team.feature';
import { roleNames, roleTasks, teamTexts } from './team.texts';

/** Everybody who can sign in; for producers, inviting and removing. */
@Component({
  selector: 'jn-team-page',
  imports: [ArmedKey, CopyKey, Key, Notice, OwnPassword],
  templateUrl: './team.page.html',
  styleUrl: './team.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TeamPage {
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  protected readonly texts = teamTexts;
  protected readonly roles = ROLES;
  protected readonly roleNames = roleNames;
  protected readonly roleTasks = roleTasks;
  protected readonly members = this.store.selectSignal(teamFeature.selectMembers);
  private readonly session = this.store.selectSignal(teamFeature.selectSession);
  /** Accounts of the demo have no password. */
  protected readonly demo = computed(() => this.session()?.demo ?? true);
  protected readonly me = this.store.selectSignal(teamFeature.selectMember);
  protected readonly may = this.store.selectSignal(teamFeature.selectMay);
  protected readonly error = this.store.selectSignal(teamFeature.selectError);

  protected readonly role = signal<Role>('moderator');
  protected readonly made = signal<{ readonly role: Role; readonly address: string } | null>(null);
  protected readonly inviteError = signal<ErrorBody | null>(null);

  constructor() {
    this.store.dispatch(TeamActions.membersWanted());
  }

  protected remove(memberId: string): void {
    this.store.dispatch(TeamActions.removeMember({ memberId }));
  }

  protected invite(): void {
    const role = this.role();
    this.api.call(inviteMember, { body: { role } }).subscribe({
      next: ({ token }) => {
        this.inviteError.set(null);
        this.made.set({ role, address: `${location.origin}/invitation#${token}` });
      },
      error: (error: ErrorBody) => this.inviteError.set(error),
    });
  }
}
