import { showFindings, type PlannedShow } from './findings';

const START = Date.UTC(2026, 10, 26, 19);
const NOW = START - 86_400_000;
const HOUR = 3_600_000;
const host = { memberId: 'm1', name: 'Odalys', part: 'host' };
const guest = { memberId: null, name: 'Pascoe', part: 'guest' };

const sound: PlannedShow = {
  id: 'a',
  description: 'About rye.',
  startsAtMs: START,
  startedAtMs: null,
  endedAtMs: null,
  archivedAtMs: null,
  plannedMinutes: 60,
  people: [host, guest],
};
const codes = (show: PlannedShow, others: PlannedShow[] = [], now = NOW): string[] =>
  showFindings(show, others, now).map(({ code }) => code);

describe('findings of a show', () => {
  it('are none when nothing is missing', () => expect(codes(sound)).toEqual([]));

  const alone: [string, Partial<PlannedShow>, number, string[]][] = [
    ['no start', { startsAtMs: null }, NOW, ['no_start']],
    ['a start that went by', {}, START + 1, ['overdue']],
    ['nobody to host', { people: [guest] }, NOW, ['no_host']],
    ['no description', { description: ' \n' }, NOW, ['no_description']],
    ['a live show', { startedAtMs: START }, START + HOUR, []],
    ['a show that is over', { endedAtMs: START, people: [] }, START, []],
    ['a show put away', { archivedAtMs: 1, people: [], startsAtMs: null }, NOW, []],
    [
      'much at once, gravest first',
      { people: [], description: '', startsAtMs: null },
      NOW,
      ['no_host', 'no_start', 'no_description'],
    ],
  ];
  for (const [name, change, now, expected] of alone) {
    it(`${name}: ${expected.join(', ') || 'nothing'}`, () => {
      expect(codes({ ...sound, ...change }, [], now)).toEqual(expected);
    });
  }

  const other = (change: Partial<PlannedShow>): PlannedShow => ({
    ...sound,
    id: 'b',
    people: [host],
    ...change,
  });
  const clashes: [string, PlannedShow, boolean][] = [
    ['at the same time', other({}), true],
    ['in the last minute', other({ startsAtMs: START + HOUR - 60_000 }), true],
    ['right after', other({ startsAtMs: START + HOUR }), false],
    ['right before', other({ startsAtMs: START - HOUR }), false],
    ['longer and around it', other({ startsAtMs: START - HOUR, plannedMinutes: 300 }), true],
    ['without a start', other({ startsAtMs: null }), false],
    ['put away', other({ archivedAtMs: 1 }), false],
    ['with nobody in common', other({ people: [{ ...host, memberId: 'm2' }] }), false],
    ['with the same guest, differently written', other({ people: [{ ...guest, name: ' pascoe ' }] }), true],
    [
      'with a member of a guest’s name',
      other({ people: [{ ...host, memberId: 'm9', name: 'Pascoe' }] }),
      false,
    ],
  ];
  for (const [name, second, clash] of clashes) {
    it(`${clash ? 'find' : 'do not mind'} another show ${name}`, () => {
      expect(codes(sound, [sound, second])).toEqual(clash ? ['in_two_shows'] : []);
    });
  }
});
