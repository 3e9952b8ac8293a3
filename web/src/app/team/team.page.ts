import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { ROLES, type Role } from '@juncta/core/team';
import type { ErrorBody } from '@juncta/contract/errors';
import { inviteMember, makePasswordLink, type Member } from '@juncta/contract/team';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { ArmedKey } from '../look/keys/armed-key';
import { CopyKey } from '../look/keys/copy-key';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { OwnPassword } from './own-password';
import { RoleChoice } from './role-choice';
import { TeamActions } from './team.actions';
import { teamFeature } from './team.feature';
import { roleNames, roleTasks, teamTexts } from './team.texts';

/** A link that was just made, told once. */
interface MadeLink {
  readonly text: string;
  readonly label: string;
  readonly address: string;
}

/** Everybody who can sign in; for producers, inviting, roles, lost passwords and removing. */
@Component({
  selector: 'jn-team-page',
  imports: [ArmedKey, CopyKey, Key, Notice, OwnPassword, RoleChoice],
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
  protected readonly made = signal<MadeLink | null>(null);
  protected readonly linkError = signal<ErrorBody | null>(null);

  constructor() {
    this.store.dispatch(TeamActions.membersWanted());
  }

  protected remove(memberId: string): void {
    this.store.dispatch(TeamActions.removeMember({ memberId }));
  }

  protected giveRole(memberId: string, role: Role): void {
    this.store.dispatch(TeamActions.changeRole({ memberId, role }));
  }

  protected makePasswordLink({ id, name }: Member): void {
    this.api.call(makePasswordLink, { params: { memberId: id } }).subscribe({
      next: ({ token }) =>
        this.show({
          text: teamTexts.newPasswordMade(name),
          label: teamTexts.newPasswordOf(name),
          address: `${location.origin}/new-password#${token}`,
        }),
      error: (error: ErrorBody) => this.linkError.set(error),
    });
  }

  protected invite(): void {
    const role = this.role();
    this.api.call(inviteMember, { body: { role } }).subscribe({
      next: ({ token }) =>
        this.show({
          text: teamTexts.shownOnce,
          label: teamTexts.inviteMade(roleNames[role]),
          address: `${location.origin}/invitation#${token}`,
        }),
      error: (error: ErrorBody) => this.linkError.set(error),
    });
  }

  private show(made: MadeLink): void {
    this.linkError.set(null);
    this.made.set(made);
  }
}
