import type { Role } from '@juncta/core/team';
import type { ErrorBody } from '@juncta/contract/errors';
import type { BodyInput } from '@juncta/contract/http';
import type { Member, Session, acceptInvitation, signIn, usePasswordLink } from '@juncta/contract/team';
import { createActionGroup, emptyProps, props } from '@ngrx/store';

export const TeamActions = createActionGroup({
  source: 'Team',
  events: {
    'Session Wanted': emptyProps(),
    'Session Known': props<{ session: Session }>(),
    'Session Unknown': props<{ error: ErrorBody }>(),
    'Sign In': props<{ credentials: BodyInput<typeof signIn> }>(),
    'Sign In To Demo': props<{ memberId: string }>(),
    'Accept Invitation': props<{ body: BodyInput<typeof acceptInvitation> }>(),
    'Use Password Link': props<{ body: BodyInput<typeof usePasswordLink> }>(),
    'Signed In': props<{ session: Session }>(),
    'Sign In Refused': props<{ error: ErrorBody }>(),
    'Sign Out': emptyProps(),
    'Signed Out': props<{ unasked: boolean }>(),
    'Members Wanted': emptyProps(),
    'Members Known': props<{ members: Member[] }>(),
    'Remove Member': props<{ memberId: string }>(),
    'Member Removed': props<{ memberId: string }>(),
    'Change Role': props<{ memberId: string; role: Role }>(),
    'Member Changed': props<{ member: Member }>(),
    'Request Failed': props<{ error: ErrorBody }>(),
  },
});
