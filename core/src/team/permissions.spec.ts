import { ALL_RIGHTS, can, ROLES, rolesWith } from './permissions';

describe('permissions', () => {
  it('lets a producer do everything', () => {
    expect(ALL_RIGHTS.filter((right) => !can('producer', right))).toEqual([]);
  });

  it('lets nobody but a producer archive shows or manage the team', () => {
    expect(rolesWith('shows.archive')).toEqual(['producer']);
    expect(rolesWith('team.manage')).toEqual(['producer']);
  });

  it('lets a moderator see, and change nothing but what is said to viewers', () => {
    const allowed = ALL_RIGHTS.filter((right) => can('moderator', right));
    expect(allowed).toEqual([
      'shows.read',
      'desk.open',
      'chat.read',
      'chat.write',
      'destinations.read',
      'team.read',
    ]);
  });

  it('names at least one role for each right', () => {
    for (const right of ALL_RIGHTS) {
      expect(ROLES.some((role) => can(role, right)))
        .withContext(right)
        .toBeTrue();
    }
  });
});
