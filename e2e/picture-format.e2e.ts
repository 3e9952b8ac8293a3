import { violations } from './support/axe';
import { addPattern, composeHost, endReadyShow, feeds, PASCOE, READY_SHOW } from './support/desk';
import { expect, test } from './support/house';
import { probe, watchSpot } from './support/media';
import { lastArrival } from './support/place';
import { endShow, onAir, pictures, startFeed } from './support/spine';

/** Size and rate of a show: chosen, tried, and seen as such at the place. A machine without a chip for it is slow at it. */
test.describe.configure({ timeout: 300_000 });

test.afterEach(({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

/** Within the pattern of the host, who stands alone in a picture of 1920x1080: its ground. */
const GROUND = [1725, 150] as const;
const HOST = [0x2f, 0x5d, 0x8a];

test('a show is made in 1920x1080, which the computer is tried for, and it arrives so', async ({ as }) => {
  const teo = await as('Teo');
  await teo.goto(READY_SHOW);
  const picture = feeds(teo).getByLabel('Picture');
  await picture.selectOption({ label: '1920x1080, 30 frames/s' });
  // Before anything is composed the computer is tried, with what is hard to encode.
  await teo.getByRole('button', { name: 'Check this computer' }).click();
  await expect(teo.getByText('It composes test pictures for some seconds')).toBeVisible();
  await expect(feeds(teo).getByText(/with (2|6) people/)).toBeVisible({ timeout: 60_000 });
  expect(await violations(teo)).toEqual([]);

  // Chosen by one, known to all.
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  await expect(feeds(odalys).getByLabel('Picture')).toHaveValue('1080p30');
  await composeHost(teo);
  await expect(teo.getByRole('button', { name: 'Check this computer' })).toBeHidden();
  await startFeed(teo);
  await onAir(teo);
  await expect(picture).toBeDisabled();
  const before = await pictures();
  await expect.poll(pictures, { timeout: 60_000 }).toBeGreaterThan(before + 60);
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received, health } = await lastArrival();
  expect(health.video).toMatchObject({ codec: 'h264', width: 1920, height: 1080 });
  const got = probe(received);
  expect(got).toMatchObject({ codecs: ['aac', 'h264'], width: 1920, height: 1080 });
  const spots = watchSpot(received, got.videoFrames.at(-1)!.at, ...GROUND);
  const isHost = (spot: readonly number[]) => spot.every((value, i) => Math.abs(value - HOST[i]!) < 24);
  expect(spots.filter(isHost).length).toBeGreaterThan(spots.length / 2);
});

test('what is composed goes on in another picture before the first feed', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await feeds(teo).getByLabel('Picture').selectOption({ label: '1280x720, 60 frames/s' });
  await expect(teo.getByText('The relay has the programme.')).toBeVisible();
  // Who is on stage stays there, and somebody else comes.
  await addPattern(teo, PASCOE);
  await teo.getByRole('button', { name: `Bring on ${PASCOE}` }).click();
  await startFeed(teo);
  await onAir(teo);
  const before = await pictures();
  await expect.poll(pictures, { timeout: 60_000 }).toBeGreaterThan(before + 60);
  await endShow(teo);
  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const got = probe(received);
  expect(got).toMatchObject({ width: 1280, height: 720 });
  // However many of the 60 this machine makes, they lie on their grid: the shortest step is a sixtieth.
  const times = got.videoFrames.map(({ at }) => at);
  const shortest = Math.min(...times.slice(1).map((at, i) => at - times[i]!));
  expect(shortest).toBeLessThan(0.02);
});
