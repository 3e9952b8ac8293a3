import type { PlaceSetting } from './settings';
import { readTable, writeTable, type TableDestination, type TableRow } from './table';

const setting = (id: PlaceSetting['id'], options: string[] = []): PlaceSetting => ({
  id,
  options,
  placeDefault: null,
  required: false,
  from: 'api',
  onAir: true,
});
const places: TableDestination[] = [
  {
    id: 'k',
    name: 'Kitefield, the school',
    settings: [setting('visibility', ['public', 'private']), setting('rewind'), setting('topics')],
  },
  { id: 'e', name: 'Emberplay “live”', settings: [] },
];
const row = (change: Partial<TableRow> = {}): TableRow => ({
  destination: 'Kitefield, the school',
  title: null,
  description: null,
  slot: { kind: 'with_show' },
  settings: {},
  ...change,
});
const faults = (text: string) => {
  const read = readTable(text, places);
  return read.ok
    ? []
    : read.faults.map(({ row: at, column, problem }) => `${at ?? '-'} ${column ?? '-'} ${problem}`);
};

describe('a table of listings', () => {
  it('is read as it was written', () => {
    const rows: TableRow[] = [
      row({
        title: 'Rye, “dark”\tand sour 🍞',
        description: 'First line\nsecond; with, all "signs"',
        slot: { kind: 'offset', minutes: -10 },
        settings: { visibility: 'private', rewind: false, topics: ['rye', 'sourdough'] },
      }),
      row({
        destination: 'Emberplay “live”',
        title: '=SUM(A1)',
        slot: { kind: 'fixed', atMs: Date.UTC(2026, 11, 1, 19) },
      }),
    ];
    const text = writeTable(rows);
    expect(text).withContext('no formula for a spreadsheet').toContain("'=SUM(A1)");
    const read = readTable(text, places);
    expect(read.ok && read.rows.map(({ destinationId: _, ...rest }) => rest)).toEqual(rows);
    expect(read.ok && read.columns).toEqual([
      'destination',
      'title',
      'description',
      'slot',
      'set.visibility',
      'set.topics',
      'set.rewind',
    ]);
  });

  it('in eleven scripts stays what it is', () => {
    const title = 'хлеб パン 面包 빵 خبز לחם ψωμί ขนมปัง रोटी პური bröd';
    const read = readTable(writeTable([row({ title })]), places);
    expect(read.ok && read.rows[0]!.title).toBe(title);
  });

  it('may begin with a byte-order mark, end in any way, and have semicolons between its cells', () => {
    for (const text of [
      '\ufeffdestination,title\r\n"Kitefield, the school",Rye\r\n\r\n',
      'destination;title\n"Kitefield, the school";Rye',
      'title\tdestination\nRye\tKitefield, the school\n',
    ]) {
      const read = readTable(text, places);
      expect(read.ok && read.rows.map(({ destinationId, title }) => [destinationId, title])).toEqual([
        ['k', 'Rye'],
      ]);
    }
  });

  const K = '"Kitefield, the school"';
  const cases: [string, string, string[]][] = [
    ['nothing', '', ['- - not_a_table']],
    ['a quote that is not closed', 'destination,title\n"Kite,Rye', ['- - not_a_table']],
    ['a wrong column', `destination,titel\n${K},Rye`, ['1 titel unknown_column']],
    ['a setting that there is not', `destination,set.colour\n${K},red`, ['1 set.colour unknown_column']],
    ['a column twice', `destination,title,title\n${K},a,b`, ['1 title column_twice']],
    ['no destination', 'title\nRye', ['1 destination column_missing']],
    ['a destination nobody knows', 'destination\nElsewhere', ['2 destination unknown_destination']],
    ['one destination twice', `destination\n${K}\n${K}`, ['3 destination destination_twice']],
    ['a slot without a zone', `destination,slot\n${K},2026-12-01T19:00`, ['2 slot bad_slot']],
    ['a slot on a day that does not exist', `destination,slot\n${K},2026-02-31T19:00Z`, ['2 slot bad_slot']],
    ['a slot before there were any', `destination,slot\n${K},1969-12-31T19:00Z`, ['2 slot bad_slot']],
    ['a slot two days off', `destination,slot\n${K},2881 min after`, ['2 slot bad_slot']],
    [
      'a value that the place has not',
      `destination,set.visibility\n${K},everybody`,
      ['2 set.visibility unfit_setting'],
    ],
    ['neither on nor off', `destination,set.rewind\n${K},perhaps`, ['2 set.rewind unfit_setting']],
    [
      'a setting that this place has not',
      'destination,set.rewind\nEmberplay “live”,on',
      ['2 set.rewind no_such_setting'],
    ],
    ['a title without end', `destination,title\n${K},${'x'.repeat(501)}`, ['2 title too_long']],
    ['10,000 rows', `destination\n${`${K}\n`.repeat(10_000)}`, ['- - too_many_rows']],
    [
      'two at once',
      `destination,slot\nElsewhere,\n${K},soon`,
      ['2 destination unknown_destination', '3 slot bad_slot'],
    ],
  ];
  for (const [what, text, wanted] of cases)
    it(`with ${what} is refused, and says where`, () => expect(faults(text)).toEqual(wanted));
});
