import type { Member } from '@juncta/contract/team';
import { TeamActions } from './team.actions';
import { teamFeature } from './team.feature';

const { reducer, selectMay } = teamFeature;
const member = (name: string, role: Member['role'] = 'host'): Member => ({ id: name, name, email: '', role });
const signedIn = (role: Member['role']) =>
  reducer(undefined, TeamActions.signedIn({ session: { member: member('Teo', role), demo: true } }));

describe('the team in the store', () => {
  it('knows what whoever looks may do', () => {
    expect(selectMay({ team: signedIn('producer') })('shows.archive')).toBeTrue();
    expect(selectMay({ team: signedIn('moderator') })('shows.edit')).toBeFalse();
    expect(selectMay({ team: reducer(undefined, { type: 'none' }) })('shows.read')).toBeFalse();
  });

  it('forgets everything but the demo when the session ends', () => {
    const ended = reducer(signedIn('host'), TeamActions.signedOut({ unasked: true }));
    expect(ended.session).toEqual({ member: null, demo: true });
    expect(ended.endedUnasked).toBeTrue();
    expect(ended.members).toEqual([]);
  });

  it('keeps members in order, with the role they have now', () => {
    const members = [member('Teo'), member('Ada'), member('Nils')];
    let state = reducer(undefined, TeamActions.membersKnown({ members }));
    state = reducer(state, TeamActions.memberChanged({ member: member('Nils', 'producer') }));
    expect(state.members.map(({ name, role }) => [name, role])).toEqual([
      ['Ada', 'host'],
      ['Nils', 'producer'],
      ['Teo', 'host'],
    ]);
    state = reducer(state, TeamActions.memberRemoved({ memberId: 'Nils' }));
    expect(state.members.length).toBe(2);
  });
});
