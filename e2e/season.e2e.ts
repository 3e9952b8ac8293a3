import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { violations } from './support/axe';
import { expect, makeShow, newTitle, save, test } from './support/house';
import { porchway } from './support/place';

const SHOW = (n: number) => `/shows/c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f0${n}`;

test('a series is laid down once, its next date planned with one press, its link always good', async ({
  as,
  browser,
}) => {
  const teo = await as('Teo');
  const name = newTitle('Crumb talk');
  await makeShow(teo, newTitle('The first crumb'));
  await teo.getByRole('button', { name: 'New series' }).click();
  await teo.getByLabel('Name of the new series').fill(name);
  await teo.getByRole('button', { name: 'Make it' }).click();
  await save(teo);
  await expect(teo.getByText('Saved', { exact: true })).toBeVisible();

  await teo.goto('/season');
  const series = teo.getByRole('region', { name });
  await series.getByRole('button', { name: `Change when ${name} is on` }).click();
  await series.getByLabel('It is on').selectOption('every second week');
  const first = new Date(Date.now() + 2 * 86_400_000).toISOString().slice(0, 10);
  await series.getByLabel('First date and time').fill(`${first}T18:30`);
  await series.getByLabel('Time zone').fill('Europe/Lisbon');
  await series.getByRole('button', { name: 'Keep' }).click();
  await expect(series.getByText(/every second week at 18:30 \(Lisbon\)/)).toBeVisible();
  expect(await violations(teo)).toEqual([]);

  const link = await series.getByRole('link').getAttribute('href');
  const free = teo.getByRole('button', { name: new RegExp(`Plan ${name} on `) });
  const before = await free.count();
  expect(before).toBeGreaterThan(1);
  await free.first().click();
  await expect(teo.getByLabel('Time', { exact: true })).toHaveValue('18:30');
  await expect(teo.getByLabel('Title', { exact: true })).toHaveValue(/The first crumb/);
  await teo.goto('/season');
  await expect(free).toHaveCount(before - 1);

  // Anybody may follow the link, on a phone too.
  const context = await browser.newContext({ viewport: { width: 390, height: 800 } });
  const viewer = await context.newPage();
  await viewer.goto(link!);
  await expect(viewer.getByRole('heading', { level: 1, name: /The first crumb/ })).toBeVisible();
  await expect(viewer.getByText('18:30')).toBeVisible();
  expect(await violations(viewer)).toEqual([]);
  await context.close();
});

test('a picture is uploaded, cut by hand for one place, and given to its event', async ({ as }) => {
  const teo = await as('Teo');
  const title = newTitle('Oven spring');
  await makeShow(teo, title);
  const day = new Date(Date.now() + 4 * 86_400_000).toISOString().slice(0, 10);
  await teo.getByLabel('Day').fill(day);
  await teo.getByLabel('Time', { exact: true }).fill('19:00');
  await save(teo);
  await expect(teo.getByText('Saved', { exact: true })).toBeVisible();
  await teo.getByRole('checkbox', { name: /Porchway/ }).check();
  await teo.getByLabel('Choose a file').setInputFiles({
    name: 'not-a-picture.png',
    mimeType: 'image/png',
    buffer: Buffer.from('<!doctype html><p>hello'),
  });
  await expect(teo.getByText('This file is no picture that can be read.', { exact: false })).toBeVisible();
  const paper = sharp({ create: { width: 2000, height: 2000, channels: 3, background: '#c33' } });
  await teo.getByLabel('Choose a file').setInputFiles({
    name: 'poster.png',
    mimeType: 'image/png',
    buffer: await paper.png().toBuffer(),
  });
  await expect(teo.getByText('2000 × 2000 pixels')).toBeVisible();
  await teo.getByRole('link', { name: 'Listings', exact: true }).click();
  await teo.getByText('Choose the part that is shown').click();
  await teo.getByLabel('Closer').fill('1.2');
  await teo.getByLabel('Closer').blur();
  const saved = teo.waitForResponse((answer) => /"y":0\.2\b/.test(answer.request().postData() ?? ''));
  await teo.getByLabel('Top to bottom').fill('0.2');
  await saved;
  await teo.getByRole('button', { name: 'Book Porchway' }).click();
  await expect(teo.getByRole('row', { name: /Porchway/ })).toContainText('Booked');
  // Another show may have been booked there in the meantime.
  const event = (await porchway.events()).find((one) => one['headline'] === title)!;
  expect(event['picture']).toMatchObject({ type: 'image/jpeg', width: 1667, height: 667 });
  expect(event['announced']).toBe(true);
  await teo.getByRole('button', { name: 'Cancel booking' }).click();
  await teo.getByRole('button', { name: 'Cancel it now' }).click();
  await expect(teo.getByRole('row', { name: /Porchway/ })).toContainText('Draft');
});

test('listings go out and in as a table, a show as a file, a launch sheet as a calendar', async ({ as }) => {
  const teo = await as('Teo');
  await teo.goto(`${SHOW(2)}/listings`);
  const download = async (name: string) => {
    const [kept] = await Promise.all([
      teo.waitForEvent('download'),
      teo.getByRole('button', { name }).click(),
    ]);
    return readFileSync(await kept.path(), 'utf8');
  };
  const table = await download('Save as a table');
  expect(table).toContain('destination,title,description,slot');
  const row = teo.getByRole('row', { name: /Emberplay/ });
  const read = (csv: string) =>
    teo
      .getByLabel('Import a table')
      .setInputFiles({ name: 't.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await read('destination,title,slot\n"Emberplay, the school’s channel",Cold dough there,later');
  await expect(teo.getByText('Row 2, slot: This is no slot.', { exact: false })).toBeVisible();
  await expect(row).not.toContainText('Cold dough there');
  await read('destination,title\n"Emberplay, the school’s channel",Cold dough there');
  await expect(teo.getByText('1 rows were taken over.')).toBeVisible();
  await expect(row).toContainText('Cold dough there');
  await read(table);
  await expect(row).not.toContainText('Cold dough there');

  await teo.goto(`${SHOW(2)}/launch`);
  const calendar = await download('Save as a calendar');
  expect(calendar).toContain('BEGIN:VALARM');
  expect(calendar).toContain('SUMMARY:Be at the desk');

  await teo.goto(SHOW(2));
  const file = await download('Save as a file');
  await teo.goto('/shows');
  await teo
    .getByLabel('Import')
    .setInputFiles({ name: 'show.json', mimeType: 'application/json', buffer: Buffer.from(file) });
  await expect(teo.getByText(/was made from the file/)).toBeVisible();
  await teo.getByRole('link', { name: 'Open it' }).click();
  await expect(teo.getByLabel('Title', { exact: true })).toHaveValue(/Cold dough/);
  await teo.getByRole('button', { name: 'Put away' }).click();
  await expect(teo.getByRole('button', { name: 'Bring back' })).toBeVisible();
});
