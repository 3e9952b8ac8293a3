import type { Locator } from '@playwright/test';
import { violations } from './support/axe';
import { composeHost, endReadyShow, READY_SHOW_ID } from './support/desk';
import { expect, pidOf, test } from './support/house';
import { arrivals, kitefield } from './support/place';

/** The picture goes on: what the page says now may be from before, so some seconds more of it have to be seen. */
async function seesOn(drill: Locator): Promise<void> {
  const strip = drill.getByRole('img', { name: /the picture \d+ s/ }).first();
  const seconds = async () => {
    const told = (await strip.getAttribute('aria-label')) ?? '';
    return [...told.matchAll(/the picture (\d+) s/g)].reduce((sum, [, one]) => sum + Number(one), 0);
  };
  const before = await seconds();
  await expect.poll(seconds, { timeout: 120_000 }).toBeGreaterThan(before + 2);
  await expect(drill.getByText('Viewers would see the picture.').first()).toBeVisible();
}

test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
});

/** Faults on purpose in a rehearsal: nothing outside hears of it, and the report says what viewers would have seen. */
test('a bad night is drilled before the show, and nothing of it leaves the house', async ({ as }) => {
  // Four processes die in it, and each has to be back: a starved machine takes minutes.
  test.setTimeout(600_000);
  const page = await as('Teo');
  const [there, events] = [(await arrivals()).at(-1)?.id, (await kitefield.events()).length];
  await composeHost(page);
  const line = page.getByRole('button', { name: 'Check the upload' });
  await line.click();
  // On a busy machine less may be sent for the moment than the line was found to carry.
  await expect(page.getByText(/This line carrie[sd] .* picture is sent at \d+ kbit\/s/i)).toBeVisible();

  await page.getByRole('button', { name: 'Begin a drill' }).click();
  const drill = page.getByRole('region', { name: 'Drill' });
  await expect(drill).toBeVisible();
  await expect(drill.getByText('Public, in the drill').first()).toBeVisible();
  expect(await violations(page)).toEqual([]);
  const strip = drill.getByRole('img', { name: /the picture \d+ s/ }).first();
  await expect(strip).toBeVisible();

  // By hand: the way from the desk is cut, and comes back.
  await drill.getByLabel('What goes wrong').selectOption('uplink_cut');
  await drill.getByRole('button', { name: 'Cause it' }).click();
  await expect(drill.getByText('Viewers would see the slate.').first()).toBeVisible();
  await seesOn(drill);

  // What dies of the house is brought back, and the drill goes on.
  for (const [fault, name] of [
    ['server_dies', 'server'],
    ['room_dies', 'janus'],
    ['database_dies', 'database'],
    ['relay_dies', 'relay'],
  ] as const) {
    const pid = pidOf(name);
    await drill.getByLabel('What goes wrong').selectOption(fault);
    await drill.getByRole('button', { name: 'Cause it' }).click();
    await expect.poll(() => pidOf(name), { timeout: 30_000 }).not.toBe(pid);
    const isUp = async () => (await page.request.get('/healthz').catch(() => null))?.ok() ?? false;
    await expect.poll(isUp, { timeout: 60_000 }).toBe(true);
    // What the page shows may be from before: the drill itself has to answer again.
    const answers = async () =>
      (await page.request.get(`/api/shows/${READY_SHOW_ID}/drill`).catch(() => null))?.ok() ?? false;
    await expect.poll(answers, { timeout: 60_000 }).toBe(true);
    await expect(drill.getByRole('button', { name: 'Cause it' })).toBeEnabled();
    await seesOn(drill);
  }

  // The desk itself: the page is gone, comes back, and composes.
  await drill.getByLabel('What goes wrong').selectOption('desk_lost');
  await drill.getByRole('button', { name: 'Cause it' }).click();
  await expect(page.getByText('The relay has the programme.')).toBeVisible();
  await seesOn(drill);

  await drill.getByRole('button', { name: 'End the drill' }).click();
  await page.getByRole('button', { name: 'Report of the drill' }).click();
  const report = page.getByRole('dialog');
  await expect(report.getByText('the uplink is cut for 8 s')).toBeVisible();
  await expect(report.getByText('the relay dies')).toBeVisible();
  await expect(report.getByText(/the slate \d+ s/).first()).toBeVisible();
  expect(await violations(page)).toEqual([]);
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    report.getByRole('button', { name: 'Save the report' }).click(),
  ]);
  expect(saved.suggestedFilename()).toMatch(/^drill.*\.json$/);
  await report.getByRole('button', { name: 'Close' }).click();

  // Nobody outside was dialled, and no event was made.
  expect((await arrivals()).at(-1)?.id).toBe(there);
  expect((await kitefield.events()).length).toBe(events);
});
