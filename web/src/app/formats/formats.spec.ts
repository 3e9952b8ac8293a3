import { launchCalendar } from './launch-calendar';
import { fileName } from './save-file';

describe('a launch sheet as a calendar', () => {
  const show = { id: 's1', title: 'Rye; and, patience', url: 'https://juncta.example/shows/s1/launch' };
  const lines = [
    { id: 'at_desk', what: 'Be at the desk', by: 'Odalys', dueMs: Date.UTC(2026, 11, 1, 18, 20) },
    { id: 'publish d2', what: 'Publish at Guildroad', by: 'Teo', dueMs: Date.UTC(2026, 11, 1, 19) },
  ];
  const text = launchCalendar(show, lines, Date.UTC(2026, 10, 24)).replaceAll('\r\n ', '');

  it('has an entry with a reminder for each line, at its instant', () => {
    expect(text.match(/BEGIN:VEVENT/g)?.length).toBe(2);
    expect(text).toContain('DTSTART:20261201T182000Z');
    expect(text).toContain('SUMMARY:Publish at Guildroad');
    expect(text.match(/TRIGGER:-PT10M/g)?.length).toBe(2);
  });

  it('names its entries the same each time, so that they move rather than double', () => {
    expect(text).toContain('UID:publish-d2.s1@juncta');
    expect(launchCalendar(show, lines, 5).match(/UID:.*/g)).toEqual(text.match(/UID:.*/g));
  });

  it('keeps signs that mean something there', () => expect(text).toContain('Rye\\; and\\, patience'));
});

describe('a file’s name', () => {
  for (const [title, wanted] of [
    ['A miller’s first hour: by hand', 'A-miller-s-first-hour-by-hand'],
    ['../../etc/passwd', 'etc-passwd'],
    ['🍞', 'show'],
    ['小麦 और', '小麦-और'],
  ] as const)
    it(`${title} is ${wanted}`, () => expect(fileName(title)).toBe(wanted));
});
