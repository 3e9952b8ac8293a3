import { ChangeDetectionStrategy, Component, input, linkedSignal, output } from '@angular/core';
import { ROLES, type Role } from '@juncta/core/team';
import type { Member } from '@juncta/contract/team';
import { ArmedKey } from '../look/keys/armed-key';
import { roleNames, teamTexts } from './team.texts';

/** Another member's role, and giving them another: that takes two presses, because it signs them out. */
@Component({
  selector: 'jn-role-choice',
  imports: [ArmedKey],
  template: `
    <select
      #select
      class="input"
      [attr.aria-label]="texts.roleOf(member().name)"
      (change)="chosen.set(roles[select.selectedIndex]!)"
    >
      @for (role of roles; track role) {
        <option [selected]="role === chosen()">{{ roleNames[role] }}</option>
      }
    </select>
    @if (chosen() !== member().role) {
      <jn-armed-key
        [label]="texts.giveRole(roleNames[chosen()])"
        [armedLabel]="texts.giveRoleArmed"
        [name]="texts.giveRoleTo(member().name, roleNames[chosen()])"
        (fired)="given.emit(chosen())"
      />
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
    select {
      width: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RoleChoice {
  readonly member = input.required<Member>();
  readonly given = output<Role>();

  protected readonly texts = teamTexts;
  protected readonly roles = ROLES;
  protected readonly roleNames = roleNames;
  protected readonly chosen = linkedSignal(() => this.member().role);
}
