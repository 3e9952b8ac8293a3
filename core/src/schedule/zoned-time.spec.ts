import fc from 'fast-check';
import { addDays, isZone, offsetMinutesAt, resolveStart, wallTimeAt, weekOf, type Fold } from './zoned-time';

const at = (local: string, zone: string, fold: Fold = 'earlier') => resolveStart({ local, zone, fold });
const utc = (iso: string) => Date.parse(iso);

describe('resolveStart', () => {
  const good: [string, string, string][] = [
    ['2026-11-26T19:00', 'Europe/Lisbon', '2026-11-26T19:00Z'],
    ['2026-11-26T19:00', 'Europe/Berlin', '2026-11-26T18:00Z'],
    ['2026-07-01T19:00', 'Europe/Berlin', '2026-07-01T17:00Z'],
    ['2028-02-29T00:00', 'Asia/Kathmandu', '2028-02-28T18:15Z'],
    ['2026-12-31T23:59', 'Pacific/Kiritimati', '2026-12-31T09:59Z'],
    ['2026-03-29T03:00', 'Europe/Berlin', '2026-03-29T01:00Z'],
  ];
  for (const [local, zone, instant] of good) {
    it(`puts ${local} ${zone} at ${instant}`, () => {
      expect(at(local, zone)).toEqual({ ok: true, atMs: utc(instant), twice: false });
    });
  }

  it('tells the two instants of a repeated hour apart', () => {
    expect(at('2026-10-25T02:30', 'Europe/Berlin', 'earlier')).toEqual({
      ok: true,
      atMs: utc('2026-10-25T00:30Z'),
      twice: true,
    });
    expect(at('2026-10-25T02:30', 'Europe/Berlin', 'later')).toEqual({
      ok: true,
      atMs: utc('2026-10-25T01:30Z'),
      twice: true,
    });
  });

  it('names the nearest wall times around a skipped hour', () => {
    expect(at('2026-03-29T02:30', 'Europe/Berlin')).toEqual({
      ok: false,
      problem: { code: 'skipped', before: '2026-03-29T01:59', after: '2026-03-29T03:00' },
    });
  });

  it('knows zones that move by half an hour', () => {
    expect(at('2026-10-04T02:15', 'Australia/Lord_Howe')).toEqual({
      ok: false,
      problem: { code: 'skipped', before: '2026-10-04T01:59', after: '2026-10-04T02:30' },
    });
  });

  const bad: [string, string, string][] = [
    ['2026-02-31T19:00', 'Europe/Berlin', 'no_such_day'],
    ['2027-02-29T19:00', 'Europe/Berlin', 'no_such_day'],
    ['2026-13-01T19:00', 'Europe/Berlin', 'no_such_day'],
    ['2026-00-10T19:00', 'Europe/Berlin', 'no_such_day'],
    ['2026-11-26T24:00', 'Europe/Berlin', 'no_such_time'],
    ['2026-11-26T19:60', 'Europe/Berlin', 'no_such_time'],
    ['0026-11-26T19:00', 'Europe/Berlin', 'year_out_of_range'],
    ['2026-11-26 19:00', 'Europe/Berlin', 'bad_form'],
    ['2026-11-26T19:00Z', 'Europe/Berlin', 'bad_form'],
    ['', 'Europe/Berlin', 'bad_form'],
    ['2026-11-26T19:00', 'Europe/Atlantis', 'unknown_zone'],
    ['2026-11-26T19:00', '', 'unknown_zone'],
    ['2026-11-26T19:00', '+02:00', 'unknown_zone'],
  ];
  for (const [local, zone, code] of bad) {
    it(`refuses "${local}" in "${zone}": ${code}`, () => {
      const result = at(local, zone);
      expect(result.ok).toBeFalse();
      if (!result.ok) expect(result.problem.code).toBe(code as never);
    });
  }

  it('is undone by wallTimeAt, whichever zone and minute', () => {
    const zones = ['UTC', 'Europe/Berlin', 'America/St_Johns', 'Australia/Lord_Howe', 'Asia/Kolkata'];
    const minute = fc.integer({ min: utc('2025-01-01') / 60e3, max: utc('2030-01-01') / 60e3 });
    fc.assert(
      fc.property(minute, fc.constantFrom(...zones), (minutes, zone) => {
        const instant = minutes * 60e3;
        const local = wallTimeAt(instant, zone);
        expect(instantsOf(local, zone)).toContain(instant);
      }),
    );
  });

  /** The instants of both folds. */
  const instantsOf = (local: string, zone: string) =>
    (['earlier', 'later'] as const).map((fold) => {
      const result = at(local, zone, fold);
      return result.ok ? result.atMs : null;
    });

  it('gives two instants to a time that comes twice, by its fold, and one to every other near it', () => {
    // When clocks go back, and by how much: IANA 2026a.
    const changes = [
      ['Europe/Berlin', '2026-10-25T01:00Z', 60],
      ['America/St_Johns', '2026-11-01T04:30Z', 60],
      ['America/New_York', '2027-11-07T06:00Z', 60],
      ['Australia/Lord_Howe', '2027-04-03T15:00Z', 30],
    ] as const;
    const near = fc.integer({ min: -200, max: 200 });
    fc.assert(
      fc.property(fc.constantFrom(...changes), near, ([zone, changes, shift], minutes) => {
        const instant = utc(changes) + minutes * 60e3;
        const first = minutes >= 0 ? instant - shift * 60e3 : instant;
        const isTwice = minutes >= -shift && minutes < shift;
        expect(instantsOf(wallTimeAt(instant, zone), zone)).toEqual(
          isTwice ? [first, first + shift * 60e3] : [instant, instant],
        );
      }),
      { numRuns: 400 },
    );
  });
});

describe('zones and weeks', () => {
  it('knows the names of the IANA list only', () => {
    expect(['Europe/Berlin', 'UTC', 'Asia/Kathmandu'].every(isZone)).toBeTrue();
    expect(['Berlin/Europe', '', '+01:00', '<b>'].some(isZone)).toBeFalse();
  });

  it('gives the offset in minutes east of UTC', () => {
    expect(offsetMinutesAt(utc('2026-11-26T12:00Z'), 'America/St_Johns')).toBe(-210);
    expect(offsetMinutesAt(utc('2026-11-26T12:00Z'), 'Asia/Kathmandu')).toBe(345);
  });

  it('starts the week on Monday, in the zone asked about', () => {
    expect(weekOf(utc('2026-11-22T23:30Z'), 'UTC')).toBe('2026-11-16');
    expect(weekOf(utc('2026-11-22T23:30Z'), 'Europe/Berlin')).toBe('2026-11-23');
  });

  it('moves dates across months and leap days', () => {
    expect(addDays('2028-02-28', 2)).toBe('2028-03-01');
    expect(addDays('2026-11-23', -23)).toBe('2026-10-31');
  });
});
