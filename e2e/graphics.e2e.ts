import type { Page } from '@playwright/test';
import { violations } from './support/axe';
import { composeHost, endReadyShow, READY_SHOW } from './support/desk';
import { expect, test } from './support/house';
import { isPaper, probe, watchSpot } from './support/media';
import { emberplay, lastArrival } from './support/place';
import { endShow, onAir, pictures, startFeed } from './support/spine';

/** What a desk puts over the programme: driven from two desks, kept over a reload, and seen at the receiving place. */
test.describe.configure({ timeout: 240_000 });
test.afterEach(({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

/** On the band at the foot: above its words, and in their midst. */
const [BAND, WORDS] = [
  [640, 642],
  [640, 662],
] as const;
/** On the plate of the left side's name, and in the middle of its points: a nought has a hole there, a one its stem. */
const [NAME, POINTS] = [
  [80, 44],
  [298, 60],
] as const;

const panelOf = async (page: Page) => {
  await page.getByRole('button', { name: 'Graphics' }).click();
  return page.getByRole('dialog', { name: 'Graphics' });
};

test('ticker, score board and clock stand over the programme, whoever drives them', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await startFeed(teo);
  await onAir(teo);
  const first = await pictures();
  await expect.poll(pictures).toBeGreaterThan(first + 45);

  const graphics = await panelOf(teo);
  await graphics
    .getByLabel('Lines, one below another')
    .fill('Questions to the mill\nNext week: what the oven tells');
  await graphics.getByRole('button', { name: 'Show: Ticker' }).click();
  await graphics.getByRole('textbox', { name: 'Left side' }).fill('Rye');
  await graphics.getByRole('textbox', { name: 'Right side' }).fill('Spelt');
  await graphics.getByRole('button', { name: 'Show: Score board' }).click();
  await graphics.getByLabel('It reads').selectOption({ label: 'a countdown' });
  await graphics.getByRole('button', { name: 'Show: Clock' }).click();
  await expect(graphics.getByText('Say first what it counts down to.')).toBeVisible();
  await graphics.getByRole('button', { name: 'Count', exact: true }).click();
  await expect(graphics.getByText(/^Counts down to/)).toBeVisible();
  expect(await violations(teo)).toEqual([]);

  // Another desk counts, and finds what is written.
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  await expect(odalys.getByRole('img', { name: /Ticker/ })).toBeVisible();
  const hers = await panelOf(odalys);
  const shown = await pictures();
  await expect.poll(pictures).toBeGreaterThan(shown + 45);
  await hers.getByRole('button', { name: 'A point more for Rye' }).click();
  await expect(graphics.getByLabel('Points of Rye', { exact: true })).toHaveText('1');

  // A reload finds all of it, on the picture too.
  await teo.reload();
  await expect(teo.getByText('The relay has the programme.')).toBeVisible();
  const back = await pictures();
  await expect.poll(pictures).toBeGreaterThan(back + 75);
  await hers.getByRole('button', { name: 'Take off: Ticker' }).click();
  const off = await pictures();
  await expect.poll(pictures).toBeGreaterThan(off + 45);
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const seconds = probe(received).videoFrames.at(-1)!.at;
  const watch = (spot: readonly [number, number]) => watchSpot(received, seconds, spot[0], spot[1], 8);

  const band = watch(BAND).map(isPaper);
  expect(band[0]).toBe(false);
  expect(band.filter(Boolean).length).toBeGreaterThan(12);
  expect(band.at(-1)).toBe(false);
  const words = watch(WORDS).filter((_, i) => band[i]);
  // The words run: both they and the paper between them come by.
  expect(words.some(isPaper)).toBe(true);
  expect(words.some(([r, g, b]) => r + g + b < 200)).toBe(true);

  const name = watch(NAME).map(isPaper);
  expect(name[0]).toBe(false);
  expect(name.at(-1)).toBe(true);
  const isOne = watch(POINTS).map(isPaper);
  expect(isOne[name.indexOf(true) + 8]).toBe(false);
  expect(isOne.at(-1)).toBe(true);
});

/** At the foot of the messages' column, on their paper beside the words. */
const COLUMN = [1206, 677] as const;

test('viewers’ messages stand in the picture, and leave it when another desk says so', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await startFeed(teo);
  await onAir(teo);
  const graphics = await panelOf(teo);
  await graphics.getByRole('combobox', { name: 'Ground' }).selectOption({ label: 'paper' });
  await graphics.getByRole('combobox', { name: 'Appears after' }).selectOption({ label: 'no time' });
  await graphics.getByRole('combobox', { name: 'Stays for' }).selectOption({ label: 'no limit' });
  await graphics.getByRole('combobox', { name: 'At once' }).selectOption({ label: '1' });
  await graphics.getByRole('button', { name: 'Show: Chat in the picture' }).click();
  await emberplay.say('Fenna', 'How warm may the flour be when it comes from the stones?');
  const shown = await pictures();
  await expect.poll(pictures).toBeGreaterThan(shown + 90);

  // Whatever page the composing tab shows.
  await teo.keyboard.press('Escape');
  await teo.getByRole('link', { name: 'Plan' }).click();
  await expect(teo.getByLabel('Title', { exact: true })).toBeVisible();
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  const hers = await panelOf(odalys);
  await hers.getByRole('checkbox', { name: 'Emberplay' }).uncheck();
  const without = await pictures();
  await expect.poll(pictures).toBeGreaterThan(without + 90);
  await teo.getByRole('link', { name: 'To its desk' }).click();
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const spots = watchSpot(received, probe(received).videoFrames.at(-1)!.at, ...COLUMN, 4).map(isPaper);
  const last = spots.lastIndexOf(true);
  expect(spots[0]).toBe(false);
  expect(spots.filter(Boolean).length).toBeGreaterThan(6);
  // Viewers go on writing, and none of it is seen any more.
  expect(spots.length - last).toBeGreaterThan(6);
});
