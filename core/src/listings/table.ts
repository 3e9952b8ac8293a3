import { parse, unparse } from '../csv/csv';
import { readInstant, type Slot } from '../schedule';
import {
  fitsSetting,
  SETTING_IDS,
  SETTING_KINDS,
  type PlaceSetting,
  type SettingId,
  type SettingValue,
  type SettingValues,
} from './settings';

/** A listing as one row of a table (RFC 4180), for working on many at once. */
export interface TableRow {
  /** The destination's name. */
  readonly destination: string;
  /** Null: the show's own. */
  readonly title: string | null;
  readonly description: string | null;
  readonly slot: Slot;
  readonly settings: SettingValues;
}

export type TableProblem =
  | 'not_a_table'
  | 'too_many_rows'
  | 'unknown_column'
  | 'column_twice'
  | 'column_missing'
  | 'unknown_destination'
  | 'destination_twice'
  | 'too_long'
  | 'bad_slot'
  | 'unfit_setting'
  | 'no_such_setting';

/** What is wrong, where: rows are counted as in the file, its heading being 1; null: it is about the whole. */
export interface TableFault {
  readonly row: number | null;
  readonly column: string | null;
  readonly problem: TableProblem;
  /** What would be right, or what it is about. */
  readonly detail: string;
}

/** What a table may say of a destination. */
export interface TableDestination {
  readonly id: string;
  readonly name: string;
  readonly settings: readonly PlaceSetting[];
}

export type ReadTable =
  | {
      readonly ok: true;
      readonly rows: readonly (TableRow & { readonly destinationId: string })[];
      /** The columns that there are: what has none stays as it is, and an empty cell inherits. */
      readonly columns: readonly string[];
    }
  | { readonly ok: false; readonly faults: readonly TableFault[] };

const TEXT_COLUMNS = ['destination', 'title', 'description', 'slot'] as const;
const SETTING_PREFIX = 'set.';
export const MOST_TABLE_ROWS = 200;
const LONGEST = { title: 500, description: 8000 };
/** What a spreadsheet would take for a formula. A quote before it makes it a text again. */
const FORMULA = /^[=+\-@\t\r]/;

/** Writes listings as a table. Only settings that one of them has are columns. */
export function writeTable(rows: readonly TableRow[]): string {
  const used = SETTING_IDS.filter((id) =>
    rows.some(({ settings }) => settings[id] !== undefined && settings[id] !== null),
  );
  const header = [...TEXT_COLUMNS, ...used.map((id) => SETTING_PREFIX + id)];
  const cells = rows.map((row) => [
    row.destination,
    row.title ?? '',
    row.description ?? '',
    writeSlot(row.slot),
    ...used.map((id) => writeSetting(row.settings[id])),
  ]);
  return unparse(
    [header, ...cells].map((line) => line.map((cell) => (FORMULA.test(cell) ? `'${cell}` : cell))),
  );
}

/** Reads a table that people worked on. All of it holds, or nothing of it is taken. */
export function readTable(text: string, destinations: readonly TableDestination[]): ReadTable {
  const whole = (problem: TableProblem, detail = ''): ReadTable => ({
    ok: false,
    faults: [{ row: null, column: null, problem, detail }],
  });
  const parsed = parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy' });
  const [heading, ...lines] = parsed.data;
  if (!heading || parsed.errors.some(({ type }) => type === 'Quotes')) return whole('not_a_table');
  if (lines.length > MOST_TABLE_ROWS) return whole('too_many_rows', String(MOST_TABLE_ROWS));
  const columns = heading.map((name) => name.trim());
  const faults: TableFault[] = [];
  columns.forEach((column, i) => {
    const at = { row: 1, column };
    if (!isColumn(column)) faults.push({ ...at, problem: 'unknown_column', detail: TEXT_COLUMNS.join(', ') });
    else if (columns.indexOf(column) !== i) faults.push({ ...at, problem: 'column_twice', detail: column });
  });
  if (!columns.includes('destination'))
    faults.push({ row: 1, column: 'destination', problem: 'column_missing', detail: '' });
  if (faults.length > 0) return { ok: false, faults };

  const seen = new Set<string>();
  const rows = lines.flatMap((line, i) => {
    const fault = (column: string, problem: TableProblem, detail = '') =>
      faults.push({ row: i + 2, column, problem, detail });
    const cell = (column: string) => {
      const found = line[columns.indexOf(column)]?.normalize('NFC').trim() ?? '';
      return found.startsWith("'") && FORMULA.test(found.slice(1)) ? found.slice(1) : found;
    };
    const name = cell('destination');
    const destination = destinations.find((one) => one.name === name);
    if (!destination) {
      fault('destination', 'unknown_destination', destinations.map((one) => one.name).join(', '));
      return [];
    }
    if (seen.has(destination.id)) fault('destination', 'destination_twice', name);
    seen.add(destination.id);
    for (const column of ['title', 'description'] as const)
      if (cell(column).length > LONGEST[column]) fault(column, 'too_long', String(LONGEST[column]));
    const slot = columns.includes('slot') ? readSlot(cell('slot')) : { kind: 'with_show' as const };
    if (!slot) fault('slot', 'bad_slot', 'with show, 5 min after, 10 min before, 2026-12-01T19:00Z');
    const settings: Partial<Record<SettingId, SettingValue>> = {};
    for (const column of columns.filter((one) => one.startsWith(SETTING_PREFIX))) {
      const id = column.slice(SETTING_PREFIX.length) as SettingId;
      const text = cell(column);
      if (text === '') continue;
      const setting = destination.settings.find((one) => one.id === id);
      const value = readSetting(id, text);
      if (!setting) fault(column, 'no_such_setting', name);
      else if (value === undefined || !fitsSetting(setting, value))
        fault(column, 'unfit_setting', setting.options.join(', '));
      else settings[id] = value;
    }
    const [title, description] = [
      cell('title').replace(/\s*\n\s*/g, ' ') || null,
      cell('description') || null,
    ];
    return slot
      ? [{ destinationId: destination.id, destination: name, title, description, slot, settings }]
      : [];
  });
  return faults.length > 0 ? { ok: false, faults } : { ok: true, rows, columns };
}

function isColumn(name: string): boolean {
  if ((TEXT_COLUMNS as readonly string[]).includes(name)) return true;
  return (
    name.startsWith(SETTING_PREFIX) &&
    (SETTING_IDS as readonly string[]).includes(name.slice(SETTING_PREFIX.length))
  );
}

function writeSlot(slot: Slot): string {
  switch (slot.kind) {
    case 'with_show':
      return 'with show';
    case 'offset':
      return `${Math.abs(slot.minutes)} min ${slot.minutes < 0 ? 'before' : 'after'}`;
    case 'fixed':
      return new Date(slot.atMs).toISOString();
  }
}

/** Null: it is none. */
function readSlot(text: string): Slot | null {
  if (text === '' || text.toLowerCase() === 'with show') return { kind: 'with_show' };
  const offset = /^(\d{1,4}) ?min (before|after)$/i.exec(text);
  if (offset) {
    const minutes = Number(offset[1]) * (offset[2]!.toLowerCase() === 'before' ? -1 : 1);
    return Math.abs(minutes) <= 1440 ? { kind: 'offset', minutes: minutes === 0 ? 0 : minutes } : null;
  }
  // Without a zone nobody could say which instant is meant.
  const atMs = readInstant(text);
  return atMs === null ? null : { kind: 'fixed', atMs };
}

function writeSetting(value: SettingValues[SettingId]): string {
  if (value === undefined || value === null) return '';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  return typeof value === 'string' ? value : value.join('; ');
}

/** Undefined: it cannot be one. */
function readSetting(id: SettingId, text: string): boolean | string | string[] | undefined {
  switch (SETTING_KINDS[id]) {
    case 'flag':
      return { on: true, yes: true, true: true, off: false, no: false, false: false }[text.toLowerCase()];
    case 'list':
      return text
        .split(';')
        .map((part) => part.trim())
        .filter(Boolean);
    default:
      return text;
  }
}
