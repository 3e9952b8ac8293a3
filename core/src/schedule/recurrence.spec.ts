import { commonRules, occurrences, recurrenceProblem } from './recurrence';
import type { ZonedStart } from './zoned-time';

const start = (local: string, zone = 'Europe/Lisbon'): ZonedStart => ({ local, zone, fold: 'earlier' });
const at = (text: string) => Date.parse(text);

describe('a recurrence', () => {
  for (const [rule, from, to, wanted] of [
    [
      'FREQ=WEEKLY',
      '2026-11-20T00:00Z',
      '2026-12-12T00:00Z',
      ['2026-11-26T19:00', '2026-12-03T19:00', '2026-12-10T19:00'],
    ],
    [
      'FREQ=WEEKLY;INTERVAL=2',
      '2026-11-20T00:00Z',
      '2026-12-20T00:00Z',
      ['2026-11-26T19:00', '2026-12-10T19:00'],
    ],
    [
      'RRULE:FREQ=MONTHLY;BYDAY=-1TH',
      '2026-11-01T00:00Z',
      '2027-01-31T00:00Z',
      ['2026-11-26T19:00', '2026-12-31T19:00', '2027-01-28T19:00'],
    ],
    [
      'FREQ=WEEKLY;COUNT=2',
      '2026-01-01T00:00Z',
      '2027-12-31T00:00Z',
      ['2026-11-26T19:00', '2026-12-03T19:00'],
    ],
    [
      'FREQ=WEEKLY;UNTIL=20261204T000000Z',
      '2026-01-01T00:00Z',
      '2027-12-31T00:00Z',
      ['2026-11-26T19:00', '2026-12-03T19:00'],
    ],
    ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30', '2026-01-01T00:00Z', '2030-01-01T00:00Z', []],
  ] as const) {
    it(`${rule} from ${from.slice(0, 10)}`, () =>
      expect(
        occurrences({ rule, start: start('2026-11-26T19:00') }, at(from), at(to)).map(
          (one) => one.start.local,
        ),
      ).toEqual([...wanted]));
  }

  it('keeps its wall time over both changes of the clock', () => {
    const weekly = { rule: 'FREQ=WEEKLY', start: start('2026-03-12T19:00') };
    const found = occurrences(weekly, at('2026-03-20T00:00Z'), at('2026-04-03T00:00Z'));
    expect(found.map(({ atMs }) => new Date(atMs!).toISOString().slice(0, 16))).toEqual([
      '2026-03-26T19:00',
      '2026-04-02T18:00',
    ]);
  });

  it('says which date the clock skips, and leaves it to a person', () => {
    const weekly = { rule: 'FREQ=WEEKLY', start: start('2027-03-21T01:30', 'Europe/Lisbon') };
    const found = occurrences(weekly, at('2027-03-27T00:00Z'), at('2027-04-05T00:00Z'));
    expect(found.map((one) => [one.start.local, one.atMs === null])).toEqual([
      ['2027-03-28T01:30', true],
      ['2027-04-04T01:30', false],
    ]);
  });

  it('is asked only for so many', () => {
    const daily = { rule: 'FREQ=DAILY', start: start('2026-01-01T10:00') };
    expect(occurrences(daily, at('2026-01-01T00:00Z'), at('2036-01-01T00:00Z')).length).toBe(200);
  });

  for (const [rule, problem] of [
    ['FREQ=WEEKLY;BYDAY=TH', null],
    ['FREQ=MONTHLY;BYDAY=2TU,4TU', null],
    ['', 'not_a_rule'],
    ['every Thursday', 'not_a_rule'],
    ['FREQ=WEEKLY;BYDAY=XX', 'not_a_rule'],
    ['FREQ=FORTNIGHTLY', 'too_often'],
    ['FREQ=HOURLY', 'too_often'],
    ['FREQ=DAILY;BYHOUR=1,2,3', 'too_often'],
    ['DTSTART:20260101T000000Z\nRRULE:FREQ=WEEKLY', 'start_inside'],
  ] as const) {
    it(`“${rule.replace('\n', '⏎')}”: ${problem ?? 'good'}`, () =>
      expect(recurrenceProblem({ rule, start: start('2026-11-26T19:00') })).toBe(problem));
  }

  it('needs a start that exists', () =>
    expect(recurrenceProblem({ rule: 'FREQ=WEEKLY', start: start('2026-02-31T19:00') })).toBe('bad_start'));
});

describe('the usual rules of a series', () => {
  for (const [local, monthly] of [
    ['2026-11-26T19:00', 'FREQ=MONTHLY;BYDAY=4TH'],
    ['2026-11-01T19:00', 'FREQ=MONTHLY;BYDAY=1SU'],
    ['2026-11-30T19:00', 'FREQ=MONTHLY;BYDAY=4MO'],
  ] as const) {
    it(`begin on ${local} and come true`, () => {
      const rules = commonRules(local);
      expect(rules.monthly).toBe(monthly);
      for (const rule of Object.values(rules)) {
        const recurrence = { rule, start: start(local) };
        expect(recurrenceProblem(recurrence)).toBeNull();
        expect(
          occurrences(recurrence, at('2026-11-01T00:00Z'), at('2027-06-01T00:00Z')).length,
        ).toBeGreaterThan(4);
      }
    });
  }
});
