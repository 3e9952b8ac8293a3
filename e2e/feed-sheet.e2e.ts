import { readFileSync } from 'node:fs';
import { composeHost, endReadyShow, feeds, startOnAir } from './support/desk';
import { expect, test } from './support/house';
import { cutLines } from './support/place';
import { onAir } from './support/spine';

/** What the desk knows of one feed, and what is left of a bad night. */
test.describe.configure({ timeout: 120_000 });

test.afterEach(({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

test('a feed is looked at closely, and a bad night is downloaded whole and without a key', async ({ as }) => {
  const page = await as('Teo');
  await composeHost(page);
  await startOnAir(page, /Start the feed to Emberplay/, 'Start now');
  await onAir(page);
  await cutLines();
  // It comes back by itself: that it was away is seen on the sheet.
  const opener = feeds(page).getByRole('button', { name: /Emberplay.*, look closely/ });
  await opener.click();
  const sheet = page.getByRole('dialog');
  const log = sheet.getByRole('list', { name: 'What happened' });
  await expect(log.getByRole('listitem').filter({ hasText: 'Recovering' })).not.toHaveCount(0);
  await expect(log.getByRole('listitem').filter({ hasText: 'On air' })).not.toHaveCount(0);
  // Figures are kept every five seconds.
  await expect(sheet.getByRole('img', { name: /^kbit\/s: from \d+ to \d+, last [1-9]/ })).toBeVisible({
    timeout: 40_000,
  });
  // What the place says itself of what it gets, and its player for pages of the team's own.
  await expect(sheet.getByText(/The place says that it gets 1280x720, \d/)).toBeVisible({ timeout: 30_000 });
  await sheet.getByRole('button', { name: 'Copy embed code' }).click();
  await expect(sheet.getByRole('button', { name: 'Copied' })).toBeVisible();
  const code = await page.evaluate(() => navigator.clipboard.readText());
  const [, src] = /^<iframe src="([^"]+)"/.exec(code)!;
  const player = await page.context().newPage();
  await player.goto(src!);
  await expect(player.locator('video[data-src^="/live/"]')).toBeVisible();
  await player.close();
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
  await expect(opener).toBeFocused();

  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download the log' }).click();
  const text = readFileSync(await (await downloading).path(), 'utf8');
  const incident = JSON.parse(text) as {
    format: string;
    programme: { state: string };
    feeds: { destination: { place: string }; log: { state: string }[]; samples: unknown[] }[];
    log: unknown[];
  };
  expect([incident.format, incident.programme.state]).toEqual(['juncta.incident', 'source']);
  const feed = incident.feeds.find(({ destination }) => destination.place === 'Emberplay')!;
  expect(feed.log.map(({ state }) => state)).toEqual(expect.arrayContaining(['on_air', 'recovering']));
  expect(feed.samples.length).toBeGreaterThan(0);
  expect(incident.log.length).toBeGreaterThan(0);
  expect(text).not.toMatch(/"(password|secret|token|key|cookie)":"[^"[]/i);
});
