import type { Page } from '@playwright/test';
import {
  composeHost,
  endReadyShow,
  feeds,
  messages,
  pressTwice,
  READY_SHOW_ID,
  startOnAir,
} from '../support/desk';
import { addPlacement, connectTrade, TRADE } from '../support/destinations';
import { expect, test } from '../support/house';
import { emberplay, guildroad, kitefield, porchway } from '../support/place';

/**
 * One show at six destinations of four places at once, each of which becomes public in its own way; a seventh is added
 * while it runs, and one is ended without the others.
 */
const SIX = [
  'Kitefield, the school’s channel',
  'Emberplay, the school’s channel',
  'Porchway, the school’s page',
  'Porchway, Your profile',
  'Guildroad, the school’s page',
  'Guildroad, Millrace for trade bakers',
];
const SEVENTH = TRADE;

/** By the name that its key is read out with: what is to be seen may be shorter. */
const row = (page: Page, name: string) =>
  feeds(page)
    .getByRole('listitem')
    .filter({ has: page.getByRole('button', { name }) });
const onAir = async (page: Page, name: string) =>
  expect(row(page, name).getByText('On air', { exact: true })).toBeVisible();

test.afterEach(async ({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

test('a show goes to six destinations at four places, a seventh joins it, and all of them end', async ({
  as,
}) => {
  test.slow();
  const page = await as('Teo');
  await page.goto('/destinations');
  await addPlacement(page, /Placements of Porchway/, 'Your profile', 'Porchway, Your profile');
  await addPlacement(page, /Placements of Guildroad/, 'Millrace for trade bakers', SIX[5]!);
  await connectTrade(page);

  await page.goto(`/shows/${READY_SHOW_ID}`);
  for (const name of SIX) await page.getByRole('checkbox', { name, exact: true }).check();
  const plan = page.url();

  // Whoever ticks and goes has ticked.
  await page.getByRole('link', { name: 'To the desk' }).click();
  await expect(feeds(page).getByRole('button', { name: /^Start the feed to/ })).toHaveCount(6);
  await composeHost(page);
  await startOnAir(page, 'Start everywhere', 'Start everywhere now');
  // Public on arrival, whoever looks.
  for (const name of SIX.slice(1, 4)) await onAir(page, name);
  // Held until somebody publishes: all at once, in one step.
  for (const name of [SIX[0]!, SIX[4]!, SIX[5]!])
    await expect(row(page, name).getByText('Held', { exact: true })).toBeVisible();
  await pressTwice(page, 'Publish everywhere', 'Publish everywhere now');
  for (const name of SIX) await onAir(page, name);

  // A seventh, in the middle of it: chosen in the plan, started by itself, and no other feed is touched.
  await page.getByRole('link', { name: /^Plan/ }).click();
  await expect(page).toHaveURL(plan);
  await page.getByRole('checkbox', { name: SEVENTH, exact: true }).check();
  await expect(page.getByRole('checkbox', { name: SEVENTH, exact: true })).toBeChecked();
  await page.getByRole('link', { name: 'To the desk' }).click();
  await startOnAir(page, `Start the feed to ${SEVENTH}`, 'Start now');
  await pressTwice(page, `Publish at ${SEVENTH}`, 'Publish now');
  await onAir(page, SEVENTH);
  for (const place of [kitefield, emberplay, porchway, guildroad]) {
    const open = (await place.arrivals()).filter(({ endedAtMs }) => endedAtMs === null);
    expect(open.length).toBe(place === emberplay ? 1 : 2);
    for (const { health } of open) {
      expect(health.video).toMatchObject({ codec: 'h264', width: 1280, height: 720 });
      expect([health.notRising, health.formatChanges]).toEqual([0, 0]);
    }
  }

  // What is written to the house alone stays between the two; where nothing tells of changes, pages are read again.
  const message = (text: string) => messages(page).getByRole('listitem').filter({ hasText: text });
  const asked = await porchway.tell({
    name: 'Orla',
    text: 'I paid for Tuesday twice, order 4711',
    kind: 'private',
  });
  await expect(message(asked.text)).toContainText('to us alone');
  await message(asked.text).getByRole('button').first().click();
  await expect(message(asked.text).getByRole('button', { name: 'On programme' })).toHaveCount(0);
  await message(asked.text).getByRole('button', { name: 'Answer' }).click();
  const field = page.getByRole('textbox', { name: 'To Orla alone, at Porchway' });
  await field.fill('You have it back, and a loaf besides');
  const answer = async () => (await porchway.chat()).find(({ text }) => text.startsWith('You have it back'));
  // Porchway does not feel like it now and then; what was not written stays in the field.
  const send = async () => {
    if (await field.isVisible()) await field.press('Enter');
    return (await answer())?.kind;
  };
  await expect.poll(send, { intervals: [1000] }).toBe('private');
  expect((await answer())!.reply_to).toBe(asked.id);
  const said = await guildroad.say('Ottoline', 'Which mill is that behind you, the old one?');
  await expect(message(said.text)).toBeVisible({ timeout: 20_000 });
  await guildroad.edit(said.id, 'Which mill is that behind you, the one by the weir?');
  await expect(message('the one by the weir')).toContainText('changed', { timeout: 20_000 });

  // One is ended alone.
  await pressTwice(page, `End the feed to ${SIX[2]!}`, 'End now');
  await expect(row(page, SIX[2]!).getByText('Ended', { exact: true })).toBeVisible();
  for (const name of [SIX[0]!, SIX[1]!, SIX[3]!, SIX[4]!, SIX[5]!, SEVENTH]) await onAir(page, name);

  await page.getByRole('button', { name: 'End show' }).click();
  const ending = page.getByRole('dialog');
  await expect(ending.getByRole('listitem')).toHaveCount(6);
  await ending.getByRole('button', { name: 'End everywhere now' }).click();
  for (const name of [...SIX, SEVENTH])
    await expect(row(page, name).getByText('Ended', { exact: true })).toBeVisible();
  // Where the end of the feed ends nothing, the place was told, and has ended it.
  await expect
    .poll(async () => (await guildroad.events()).slice(-2).map(({ state }) => state))
    .toEqual(['ended', 'ended']);

  // As the next test wants to find it.
  await page.goto(plan);
  for (const name of [...SIX.slice(2), SEVENTH])
    await page.getByRole('checkbox', { name, exact: true }).uncheck();
  await expect(page.getByRole('checkbox', { checked: true })).toHaveCount(2);
});
