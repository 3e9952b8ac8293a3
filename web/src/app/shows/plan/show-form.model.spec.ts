import type { ShowText } from '@juncta/contract/shows';
import { ALL_ZONES, fillShowForm, findZones, makeShowForm, readShowForm } from './show-form.model';

const text: ShowText = {
  title: 'Rye',
  description: 'About rye.',
  seriesId: null,
  start: { local: '2027-05-20T19:00', zone: 'Europe/Berlin', fold: 'earlier' },
  plannedMinutes: 60,
  people: [],
};
const filled = (change: Partial<ShowText> = {}) => {
  const form = makeShowForm();
  fillShowForm(form, { ...text, ...change }, 'Europe/Lisbon');
  return form;
};

describe('show form', () => {
  it('reads back what it was filled with', () => {
    expect(readShowForm(filled())).toEqual(text);
    expect(readShowForm(filled({ start: null }))).toEqual({ ...text, start: null });
  });

  it('offers the viewer’s own zone while there is no start', () => {
    const form = filled({ start: null });
    form.patchValue({ day: '2027-05-20', time: '19:00' });
    expect(readShowForm(form).start).toEqual({
      local: '2027-05-20T19:00',
      zone: 'Europe/Lisbon',
      fold: 'earlier',
    });
  });

  it('keeps half a start, so that what is missing can be said', () => {
    const form = filled();
    form.patchValue({ time: '' });
    expect(readShowForm(form).start?.local).toBe('2027-05-20T');
  });

  it('keeps the choice between two instants only where there are two', () => {
    const form = filled();
    form.patchValue({ fold: 'later' });
    expect(readShowForm(form).start?.fold).toBe('earlier');
    form.patchValue({ day: '2027-10-31', time: '02:30' });
    expect(readShowForm(form).start?.fold).toBe('later');
  });

  for (const title of ['', '   ', 'x'.repeat(201)]) {
    it(`does not pass a title of ${title.length} signs like "${title.slice(0, 3)}"`, () => {
      expect(filled({ title }).valid).toBeFalse();
    });
  }
  for (const plannedMinutes of [4, 1501, 7.5, null as never]) {
    it(`does not pass ${plannedMinutes} minutes`, () => expect(filled({ plannedMinutes }).valid).toBeFalse());
  }
});

describe('zones', () => {
  const zones = ['America/Toronto', 'Europe/Berlin', 'America/St_Johns', 'Asia/Tokyo', 'Europe/Tirane'];

  it('are found by any part of their name, cities first', () => {
    expect(findZones('to', zones)).toEqual(['America/Toronto', 'Asia/Tokyo']);
    expect(findZones('st johns', zones)).toEqual(['America/St_Johns']);
    expect(findZones('europe', zones)).toEqual(['Europe/Berlin', 'Europe/Tirane']);
    expect(findZones('  ', zones)).toEqual([]);
  });

  it('are those the browser knows, with UTC', () => {
    expect(ALL_ZONES).toContain('UTC');
    expect(ALL_ZONES.length).toBeGreaterThan(300);
  });
});
