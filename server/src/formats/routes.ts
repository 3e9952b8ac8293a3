import {
  readListingsTable,
  readShowFile,
  SHOW_FILE_FORMAT,
  SHOW_FILE_VERSION,
  ShowFile,
  writeListingsTable,
  writeShowFile,
} from '@juncta/contract/formats';
import type { FieldError } from '@juncta/contract/errors';
import { saveListing } from '@juncta/contract/listings';
import type { Show, ShowText } from '@juncta/contract/shows';
import {
  fitsSetting,
  readTable,
  writeTable,
  type SettingId,
  type SettingValues,
  type TableFault,
  type TableProblem,
  type TableRow,
} from '@juncta/core/listings';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import * as z from 'zod';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { listDestinations, setShowDestinations } from '../destinations/store';
import { appendEvent } from '../events/store';
import { badInput, notFound } from '../http/errors';
import { mount } from '../http/mount';
import { fieldErrors } from '../http/sentences';
import { tellListing } from '../listings/at-place';
import { changeListing, listingsAt } from '../listings/store';
import { checkShowText } from '../shows/check-text';
import * as shows from '../shows/store';
import { listMembers } from '../team/store';

/** Shows and listings as files. */
export function mountFormats(router: Router, app: App): void {
  const schema = {
    ...z.toJSONSchema(ShowFile, { io: 'input', unrepresentable: 'any' }),
    title: 'A show of Juncta',
    description: `Format ${SHOW_FILE_FORMAT}, version ${SHOW_FILE_VERSION}.`,
  };
  // The form of a file is no secret, and other programs have to be able to look it up.
  router.get('/api/formats/show.schema.json', async (req, res) => {
    await app.rateLimits.countRequest(req.ip ?? 'unknown');
    res.type('application/schema+json').send(JSON.stringify(schema, null, 2));
  });

  mount(router, app, writeShowFile, async ({ params: { showId } }): Promise<ShowFile> => {
    const show = await found(app, showId);
    const { title, description, start, plannedMinutes, people, seriesId } = show.text;
    const series = seriesId === null ? undefined : await shows.findSeries(app.db, seriesId);
    return {
      format: SHOW_FILE_FORMAT,
      version: SHOW_FILE_VERSION,
      title,
      description,
      series: series?.name ?? null,
      start,
      plannedMinutes,
      people: people.map(({ name, part, about }) => ({ name, part, about })),
      pictureFormat: show.pictureFormat,
      shared: show.shared,
      listings: (await listingsAt(app.db, showId)).map(({ listing, destination }) => ({
        destination: destination.name,
        place: app.rules.of(destination.kind).place,
        title: listing.title,
        description: listing.description,
        slot: listing.slot,
        settings: listing.settings,
      })),
    };
  });

  mount(router, app, readShowFile, async ({ body: { id, file }, memberId }) => {
    const read = readFile(file);
    return app.db.transaction(async (tx) => {
      const made = await makeShow(app, tx, id, read, memberId);
      await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: made.show });
      return made;
    });
  });

  mount(router, app, writeListingsTable, async ({ params: { showId } }) => {
    await found(app, showId);
    const rows = (await listingsAt(app.db, showId)).map(({ listing, destination }) => ({
      ...listing,
      destination: destination.name,
    }));
    return { csv: writeTable(rows) };
  });

  mount(router, app, readListingsTable, async ({ params: { showId }, body }) => {
    await found(app, showId);
    const listings = await listingsAt(app.db, showId);
    const known = listings.map(({ destination }) => ({
      id: destination.id,
      name: destination.name,
      settings: app.rules.of(destination.kind).capabilities.settings,
    }));
    const read = readTable(body.csv, known);
    if (!read.ok) throw badInput(read.faults.slice(0, MOST_FAULTS).map(told));
    const { columns, rows } = read;
    refuseUnlikeForm(rows);
    const has = (column: string) => columns.includes(column);
    await app.db.transaction(async (tx) => {
      for (const row of rows) {
        const before = listings.find(({ listing }) => listing.destinationId === row.destinationId)!.listing;
        const kept = Object.entries(before.settings).filter(([setting]) => !has(`set.${setting}`));
        await changeListing(tx, showId, row.destinationId, {
          ...(has('title') ? { title: row.title } : {}),
          ...(has('description') ? { description: row.description } : {}),
          ...(has('slot') ? { slot: row.slot } : {}),
          settings: { ...Object.fromEntries(kept), ...row.settings },
        });
        await tellListing(app, tx, showId, row.destinationId);
      }
    });
    return { rows: rows.length };
  });
}

/** A table passes by the same rules as the form of a listing. */
function refuseUnlikeForm(rows: readonly TableRow[]): void {
  const wrong = rows.flatMap(({ title, description, slot, settings }, i) => {
    const form = saveListing.body.safeParse({ title, description, slot, settings }, { reportInput: true });
    if (form.success) return [];
    // Its heading is row 1.
    const where = `row ${i + 2}`;
    return fieldErrors(form.error.issues).map(({ field, code, sentence }) => ({
      field: `${where}, ${field}`,
      code,
      sentence: `Row ${i + 2}, ${field}: ${sentence}`,
    }));
  });
  if (wrong.length > 0) throw badInput(wrong.slice(0, MOST_FAULTS));
}

async function found(app: App, showId: string): Promise<Show> {
  const show = await shows.findShow(app.db, showId);
  if (!show) throw notFound('show');
  return show;
}

/** A file that is what it should be, or each field that is not. */
function readFile(file: unknown): ShowFile {
  const head = z.object({ format: z.literal(SHOW_FILE_FORMAT), version: z.number() }).safeParse(file);
  if (!head.success)
    throw badInput([{ field: 'file', code: 'not_a_show', sentence: 'This file is no show of Juncta.' }]);
  const { version } = head.data;
  if (version !== SHOW_FILE_VERSION) {
    const sentence = `This file is of version ${version}; this house reads version ${SHOW_FILE_VERSION}.`;
    throw badInput([{ field: 'file.version', code: 'other_version', sentence }]);
  }
  const read = ShowFile.safeParse(file, { reportInput: true });
  if (read.success) return read.data;
  throw badInput(fieldErrors(read.error.issues).map((one) => ({ ...one, field: `file.${one.field}` })));
}

interface NotHere {
  what: 'destination' | 'series' | 'person' | 'setting';
  name: string;
}

async function makeShow(
  app: App,
  tx: Transaction,
  id: string,
  file: ShowFile,
  memberId: string,
): Promise<{ show: Show; notHere: NotHere[] }> {
  const notHere: NotHere[] = [];
  const series = (await shows.listSeries(tx)).find(({ name }) => name === file.series);
  if (file.series !== null && !series) notHere.push({ what: 'series', name: file.series });
  const members = await listMembers(tx);
  const people = file.people.flatMap((person) => {
    const member = person.part === 'guest' ? undefined : members.find(({ name }) => name === person.name);
    if (person.part === 'guest' || member)
      return [{ ...person, id: randomUUID(), memberId: member?.id ?? null }];
    notHere.push({ what: 'person', name: person.name });
    return [];
  });
  const { title, description, start, plannedMinutes } = file;
  const text: ShowText = { title, description, start, plannedMinutes, people, seriesId: series?.id ?? null };
  const startsAtMs = checkShowText(text, { members, series, before: null });
  const save = { id, version: 1, text, startsAtMs, editedAtMs: app.clock.now(), editedBy: memberId };
  const isNew = await shows.insertShow(tx, save);
  const here = await listDestinations(tx);
  const listings = file.listings.flatMap((listing) => {
    const fits = here.filter((one) => app.rules.of(one.kind).place === listing.place);
    // By its name, or the only one at that place.
    const destination =
      fits.find(({ name }) => name === listing.destination) ?? (fits.length === 1 ? fits[0] : undefined);
    if (destination) return [{ listing, destination }];
    notHere.push({ what: 'destination', name: listing.destination });
    return [];
  });
  const ids = listings.map(({ destination }) => destination.id);
  if (isNew) {
    await setShowDestinations(tx, id, [...new Set(ids)]);
    await shows.changeShared(tx, (await shows.findShow(tx, id))!, file.shared ?? {});
    if (file.pictureFormat) await shows.setShowPictureFormat(tx, id, file.pictureFormat);
  }
  for (const { listing, destination } of listings) {
    const known = app.rules.of(destination.kind).capabilities.settings;
    const settings: SettingValues = Object.fromEntries(
      Object.entries(listing.settings).filter(([name, value]) => {
        const setting = known.find((one) => one.id === (name as SettingId));
        const fits = setting !== undefined && value != null && fitsSetting(setting, value);
        if (!fits && value != null) notHere.push({ what: 'setting', name: `${destination.name}: ${name}` });
        return fits;
      }),
    );
    if (!isNew) continue;
    const { title: own, description: told, slot } = listing;
    await changeListing(tx, id, destination.id, { title: own, description: told, slot, settings });
  }
  return { show: (await shows.findShow(tx, id))!, notHere };
}

/** More are not read by anybody before the first are mended. */
const MOST_FAULTS = 20;

const SENTENCES: Record<TableProblem, (detail: string) => string> = {
  not_a_table: () => 'This is no table: its first line names the columns, and each quote is closed.',
  too_many_rows: (most) => `A table has at the most ${most} rows.`,
  unknown_column: (names) => `There is no such column. There are ${names}, and set. with a setting’s name.`,
  column_twice: () => 'This column is there twice.',
  column_missing: () => 'The column destination is missing: it says which listing a row is about.',
  unknown_destination: (names) => `The show goes to no such destination. It goes to ${names}.`,
  destination_twice: () => 'This destination is there twice.',
  too_long: (most) => `At the most ${most} characters are kept.`,
  bad_slot: (examples) => `This is no slot. It can be ${examples}.`,
  unfit_setting: (options) => (options ? `It can be ${options}.` : 'This setting cannot have this value.'),
  no_such_setting: (name) => `${name} has no such setting.`,
};

function told({ row, column, problem, detail }: TableFault): FieldError {
  const where = row === null ? 'csv' : `row ${row}${column === null ? '' : `, ${column}`}`;
  const sentence = SENTENCES[problem](detail);
  return {
    field: where,
    code: problem,
    sentence: row === null ? sentence : `Row ${row}, ${column}: ${sentence}`,
  };
}
