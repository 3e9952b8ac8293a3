import type { Page } from '@playwright/test';
import { violations } from './support/axe';
import { composeHost, dropOverlayPage, endReadyShow, messages, READY_SHOW_ID } from './support/desk';
import { expect, test } from './support/house';
import { emberplay } from './support/place';
import { endShow, onAir, startFeed } from './support/spine';

/** Viewers' messages with nothing behind them, for an outside encoder: what it would see, at an address that is kept. */
test.describe.configure({ timeout: 180_000 });
test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
  await dropOverlayPage(playwright, baseURL!);
});

/** How much of the page is covered by anything: of its right third, and of the rest of it, from 0 to 1. */
const covered = (page: Page): Promise<{ column: number; rest: number }> =>
  page.evaluate(() => {
    const canvas = document.querySelector('canvas')!;
    const { width, height } = canvas;
    const { data } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
    const sums = { column: 0, rest: 0 };
    for (let at = 0; at < width * height; at += 1)
      if (data[at * 4 + 3]! > 0) sums[at % width > (width * 2) / 3 ? 'column' : 'rest'] += 1;
    return { column: sums.column / (width * height), rest: sums.rest / (width * height) };
  });

test('viewers’ messages go to an outside encoder as a page without a ground', async ({ as, browser }) => {
  const teo = await as('Teo');
  await teo.goto('/overlay-pages');
  await teo.getByRole('button', { name: 'Make the page' }).click();
  await expect(teo.getByText('It is open nowhere.')).toBeVisible();
  const address = (await teo.getByText(/\/overlay#/).textContent())!.trim();
  await teo.getByRole('combobox', { name: 'Ground' }).selectOption({ label: 'paper' });
  await teo.getByRole('combobox', { name: 'Appears after' }).selectOption({ label: 'no time' });
  await teo.getByRole('combobox', { name: 'Stays for' }).selectOption({ label: 'no limit' });
  await expect(teo.getByText(/The chat of Emberplay.* is not open/)).toBeVisible();
  expect(await violations(teo)).toEqual([]);

  // An encoder: nobody is signed in there.
  const encoder = await (await browser.newContext({ viewport: { width: 1280, height: 720 } })).newPage();
  await encoder.goto(address);
  await expect(teo.getByText('It is open at one place.')).toBeVisible();
  // Others may have written at this show before.
  expect((await covered(encoder)).rest).toBe(0);
  const ground = await encoder.evaluate(() => getComputedStyle(document.body).backgroundColor);
  expect(ground).toBe('rgba(0, 0, 0, 0)');
  await teo.getByRole('button', { name: 'Show samples for a minute' }).click();
  await expect(encoder.getByText(/This is where viewers’ messages will stand/)).toBeAttached();
  await expect.poll(async () => (await covered(encoder)).column).toBeGreaterThan(0.02);
  expect(await violations(encoder)).toEqual([]);

  const desk = await as('Odalys');
  await composeHost(desk);
  await startFeed(desk);
  await onAir(desk);
  await emberplay.say('Fenna', 'How warm may the flour be?');
  const line = encoder.getByText('How warm may the flour be?');
  await expect(line).toBeAttached();
  await expect.poll(async () => (await covered(encoder)).column).toBeGreaterThan(0.01);
  await expect(teo.getByText(/A message is on it \d+\.\d s after the house has it/)).toBeVisible();
  await expect(teo.getByRole('link', { name: /^On air:/ })).toBeVisible();
  // Viewers are told nothing of what is missing, and a look at the page's own words finds none of it.
  await expect(encoder.getByText(/not open|missing|lost/)).toHaveCount(0);

  // Hidden by a moderator: gone from the encoder.
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  const row = messages(ingrid).getByRole('listitem').filter({ hasText: 'How warm may the flour be?' });
  await row.getByRole('button').first().click();
  await row.getByRole('button', { name: 'Hide' }).click();
  await row.getByRole('button', { name: 'Hide it there too' }).click();
  await expect(line).toHaveCount(0);

  // Another address: the old page goes dark.
  await teo.getByRole('button', { name: 'Renew the address' }).click();
  await teo.getByRole('button', { name: 'Renew: the old one goes dark' }).click();
  await expect(teo.getByText('It is open nowhere.')).toBeVisible();
  await expect.poll(() => covered(encoder)).toEqual({ column: 0, rest: 0 });
  await encoder.context().close();
  await teo.getByRole('button', { name: 'Remove the page' }).click();
  await teo.getByRole('button', { name: 'Remove it for good' }).click();
  await expect(teo.getByRole('button', { name: 'Make the page' })).toBeVisible();
  await endShow(desk);
});
