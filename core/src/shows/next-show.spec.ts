import { nextStart } from './next-show';

describe('the next start', () => {
  const at = (local: string, zone = 'Europe/Lisbon') => ({ local, zone, fold: 'earlier' as const });
  const cases: [string, string, string, string][] = [
    ['a week later', '2026-11-17T19:00', '2026-11-17T20:00Z', '2026-11-24T19:00'],
    [
      'a week later, though this one is still to come',
      '2026-11-17T19:00',
      '2026-11-10T08:00Z',
      '2026-11-24T19:00',
    ],
    [
      'the first that is still to come, from one long ago',
      '2026-01-06T19:00',
      '2026-11-18T08:00Z',
      '2026-11-24T19:00',
    ],
    ['not today when that has gone by', '2026-11-17T19:00', '2026-11-24T19:30Z', '2026-12-01T19:00'],
    ['today when it is still to come', '2026-11-17T19:00', '2026-11-24T18:30Z', '2026-11-24T19:00'],
    [
      'the same wall time over the change in spring',
      '2027-03-24T19:00',
      '2027-03-25T08:00Z',
      '2027-03-31T19:00',
    ],
    [
      'the same wall time over the change in autumn',
      '2026-10-21T19:00',
      '2026-10-22T08:00Z',
      '2026-10-28T19:00',
    ],
  ];
  for (const [what, local, now, wanted] of cases) {
    it(`is ${what}`, () => {
      expect(nextStart(at(local), Date.parse(now))).toEqual({ start: at(wanted), notCarried: [] });
    });
  }

  it('that the clock skips is left to a person', () => {
    const start = at('2027-03-21T02:30', 'Europe/Berlin');
    expect(nextStart(start, Date.parse('2027-03-22T08:00Z'))).toEqual({
      start: null,
      notCarried: ['start_skipped'],
    });
  });

  it('of a show without one is none', () => {
    expect(nextStart(null, 0)).toEqual({ start: null, notCarried: ['no_start'] });
  });
});
