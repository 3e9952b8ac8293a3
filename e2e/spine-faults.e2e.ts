import { feeds } from './support/desk';
import { findWhole, noteEncoded } from './support/encoded';
import { expect, newTitle, pidOf, test } from './support/house';
import { probe, steps } from './support/media';
import { cutLines, lastArrival, setFaults } from './support/place';
import {
  composePair,
  endShow,
  endSpine,
  onAir,
  pictures,
  recordingsAreReady,
  startFeed,
} from './support/spine';

/** What becomes of the programme when a place, a line or one of our own processes fails: on real media. */
test.describe.configure({ timeout: 120_000 });

test.afterEach(({ playwright, baseURL }) => endSpine(playwright, baseURL!));

test('a refusal is told in the place’s words and in ours', async ({ as }) => {
  // Words that no earlier run was refused with.
  const words = newTitle('This channel is closed tonight');
  await setFaults({ refuseSaying: words });
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await expect(feeds(page)).toContainText(`The place says: “${words}”`, { timeout: 20_000 });
  // Refused is refused: somebody has to start it again.
  await setFaults({});
  await startFeed(page);
  await onAir(page);
  await endShow(page);
});

test('a place that is down is said so, and nothing is started', async ({ as }) => {
  await setFaults({ api: 'fails' });
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await expect(
    page.getByText('does not answer just now, so the feed was not started', { exact: false }),
  ).toBeVisible();
  await expect(page.getByRole('button', { name: 'End show' })).toHaveCount(0);
});

test('a broken line comes back by itself', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const { id } = await lastArrival();
  await cutLines();
  await expect.poll(async () => (await lastArrival()).id, { timeout: 20_000 }).not.toBe(id);
  await onAir(page);
  await endShow(page);
});

test('the web server may die while a show is on air', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const { id } = await lastArrival();
  const before = await pictures();
  process.kill(pidOf('server'), 'SIGKILL');
  const lost = page.getByText('The connection is lost', { exact: false });
  await expect(lost).toBeVisible();
  await expect.poll(pictures, { timeout: 20_000 }).toBeGreaterThan(before + 120);
  await expect(lost).toBeHidden({ timeout: 60_000 });
  expect((await lastArrival()).id).toBe(id);
  expect((await lastArrival()).health.gaps.sound).toBe(0);

  // What is pressed while nobody is there to take it is done as soon as somebody is.
  process.kill(pidOf('server'), 'SIGKILL');
  await expect(lost).toBeVisible();
  // The panic key goes to the relay itself, which says what it did.
  const covered = page.getByText('Covered: viewers see the slate', { exact: true });
  await page.keyboard.press('x');
  await expect(covered).toBeVisible();
  await page.keyboard.press('x');
  await expect(covered).toBeHidden();
  await endShow(page);
});

test('the relay may die while a show is on air: it comes back sending, and nothing composed is lost', async ({
  as,
}) => {
  const page = await as('Teo');
  const encoded = noteEncoded(page);
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const before = await pictures();
  await expect.poll(pictures, { timeout: 20_000 }).toBeGreaterThan(before + 90);
  const { id } = await lastArrival();
  process.kill(pidOf('relay'), 'SIGKILL');
  await expect.poll(async () => (await lastArrival()).id, { timeout: 20_000 }).not.toBe(id);
  await expect.poll(pictures, { timeout: 20_000 }).toBeGreaterThan(90);
  await onAir(page);
  // What could not be delivered meanwhile is delivered.
  await expect(page.getByText('packets still to be delivered', { exact: false })).toBeHidden({
    timeout: 20_000,
  });
  await endShow(page);
  await recordingsAreReady(page);
  const link = page.getByRole('link', { name: 'Save file of the Programme recording' }).first();
  const file = test.info().outputPath('programme.mp4');
  const download = page.waitForEvent('download');
  await link.click();
  await (await download).saveAs(file);
  const got = probe(file);
  expect(got.codecs).toEqual(['aac', 'h264']);
  expect(got.videoFrames.at(-1)!.at).toBeGreaterThan(6);
  expect(Math.max(...steps(got.audioFrames))).toBeLessThan(0.03);
  // Every frame that the desk encoded is in the file, from its first to its last.
  const inFile = got.videoFrames.map(({ at }) => at);
  expect(findWhole(await encoded(), inFile)).not.toBeNull();
  // A missing one would be noticed.
  expect(findWhole(await encoded(), inFile.toSpliced(Math.floor(inFile.length / 2), 1))).toBeNull();
});
