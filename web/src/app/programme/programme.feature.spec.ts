import { TeamActions } from '../team/team.actions';
import { ProgrammeActions } from './programme.actions';
import { programmeFeature } from './programme.feature';
import { feed, programme, SHOW, view } from '../testing/programme';

describe('the programme in the store', () => {
  const { reducer } = programmeFeature;
  const opened = reducer(undefined, ProgrammeActions.opened({ showId: SHOW }));
  const known = reducer(opened, ProgrammeActions.known({ showId: SHOW, view: view() }));

  it('takes reports of the show that is looked at, and of no other', () => {
    const other = programme({ showId: 'other', state: 'slate' });
    expect(reducer(known, ProgrammeActions.programmeChanged({ programme: other })).programme!.state).toBe(
      'source',
    );
    const ours = programme({ state: 'covered' });
    expect(reducer(known, ProgrammeActions.programmeChanged({ programme: ours })).programme!.state).toBe(
      'covered',
    );
  });

  it('keeps the last report while the relay is away', () => {
    const away = reducer(known, ProgrammeActions.known({ showId: SHOW, view: view({ programme: null }) }));
    expect(away.programme!.state).toBe('source');
  });

  it('begins afresh with another show, and stays with the same', () => {
    expect(reducer(known, ProgrammeActions.opened({ showId: SHOW }))).toBe(known);
    expect(reducer(known, ProgrammeActions.opened({ showId: 'other' })).programme).toBeNull();
    expect(reducer(known, ProgrammeActions.known({ showId: 'other', view: view() }))).toBe(known);
  });

  it('is busy from an order to its answer, and keeps what was refused', () => {
    const busy = reducer(known, ProgrammeActions.startFeed({ showId: SHOW, destinationId: 'd' }));
    expect(busy.busy).toBeTrue();
    const error = { code: 'relay_away', sentence: 'Away.' } as const;
    expect(reducer(busy, ProgrammeActions.refused({ error }))).toEqual(
      jasmine.objectContaining({ busy: false, error }),
    );
    const done = reducer(busy, ProgrammeActions.done({ programme: programme({ feeds: [feed()] }) }));
    expect([done.busy, done.programme!.feeds.length]).toEqual([false, 1]);
    const late = reducer(done, ProgrammeActions.notTakenYet());
    expect(late.insisting).toBeFalse();
  });

  it('is forgotten with the session', () => {
    expect(reducer(known, TeamActions.signedOut({ unasked: true })).showId).toBeNull();
  });
});
