import { TestBed } from '@angular/core/testing';
import { TimeFormat } from './time-format';

const MINUTE = 60_000;
const AT = Date.parse('2026-11-26T19:00:07Z');

describe('times as people read them', () => {
  let format: TimeFormat;
  beforeEach(() => (format = TestBed.inject(TimeFormat)));

  it('are in 24 hours, in the zone asked for', () => {
    expect(format.time(AT, 'America/St_Johns')).toBe('15:30');
    expect(format.seconds(AT, 'UTC')).toBe('19:00:07');
    expect(format.time(Date.parse('2026-11-26T00:05Z'), 'UTC')).toBe('00:05');
  });

  it('name the year only when it is another', () => {
    expect(format.day(AT, AT, 'UTC')).toBe('Thu 26 Nov');
    expect(format.day(AT, AT + 60 * 86_400_000, 'UTC')).toBe('Thu 26 Nov 2026');
  });

  const distances: [number, string][] = [
    [0, 'now'],
    [29_000, 'now'],
    [59_000, 'in 1 min'],
    [25 * MINUTE + 59_000, 'in 25 min'],
    [-5 * MINUTE, '5 min ago'],
    [90 * MINUTE, 'in 1 h 30 min'],
    [120 * MINUTE, 'in 2 h'],
    [26 * 60 * MINUTE, 'in 26 h'],
    [-3.9 * 1440 * MINUTE, '3 days ago'],
  ];
  for (const [ahead, words] of distances) {
    it(`say ${ahead} ms as "${words}"`, () => expect(format.distance(AT + ahead, AT)).toBe(words));
  }

  it('tell lengths and cities in words', () => {
    expect([45, 60, 75].map((minutes) => format.length(minutes))).toEqual(['45 min', '1 h', '1 h 15 min']);
    expect(format.city('America/St_Johns')).toBe('St Johns');
    expect(format.offset(AT, 'America/St_Johns')).toBe('GMT-3:30');
  });
});
