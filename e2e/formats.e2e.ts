import { randomUUID } from 'node:crypto';
import { statSync } from 'node:fs';
import { violations } from './support/axe';
import {
  composeHost,
  endReadyShow,
  feeds,
  READY_SHOW,
  READY_SHOW_ID,
  startOnAir,
  withProducer,
} from './support/desk';
import { expect, test } from './support/house';
import { longestGroup, probe, steps } from './support/media';
import { emberplay, kitefield } from './support/place';
import { PlainPlace } from './support/plain-place';
import { endShow } from './support/spine';

/** One programme at seven places in three formats: each gets the best that it takes, and lowers nobody else. */
test.describe.configure({ timeout: 300_000 });

interface Plain {
  readonly id: string;
  readonly name: string;
  readonly place: PlainPlace;
}
let plain: Plain[] = [];
/** Where the show goes otherwise. */
let usual: string[] = [];

test.beforeEach(async ({ playwright, baseURL }) => {
  plain = [];
  for (const name of ['Ash', 'Birch', 'Cedar', 'Dogwood', 'Elder'])
    plain.push({ id: randomUUID(), name, place: await PlainPlace.open() });
  await withProducer(playwright, baseURL!, async ({ house, post, order }) => {
    for (const { id, name, place } of plain) {
      const { address, key } = place;
      const tile = { code: name.slice(0, 2), pattern: 'plain' };
      await post('/api/destinations', { id, name, ...tile, address, key, pageUrl: '' });
    }
    const { destinations } = (await (await house.get(`/api/shows/${READY_SHOW_ID}/listings`)).json()) as {
      destinations: { id: string }[];
    };
    usual = destinations.map(({ id }) => id);
    const destinationIds = [...usual, ...plain.map(({ id }) => id)];
    expect(await order(`/api/shows/${READY_SHOW_ID}/destinations`, { destinationIds }, 'put')).toBe(200);
    // What two of them take, a person says on the page; of the third here.
    const limit = { shape: 'upright_halves', maxHeight: 360, maxFramesPerS: 15, maxKbps: 800 };
    expect(await order(`/api/destinations/${plain[4]!.id}/limit`, { limit }, 'put')).toBe(200);
  });
});

test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
  await withProducer(playwright, baseURL!, async ({ order }) => {
    await order(`/api/shows/${READY_SHOW_ID}/destinations`, { destinationIds: usual }, 'put');
    for (const { id } of plain) await order(`/api/destinations/${id}`, {}, 'delete');
  });
  for (const { place } of plain) await place.close();
});

test('seven places get three formats at once, one of them upright, each within its own rules', async ({
  as,
}) => {
  const teo = await as('Teo');
  await teo.goto('/destinations');
  for (const name of ['Cedar', 'Dogwood']) {
    await teo.getByRole('button', { name, exact: true }).click();
    const line = teo.getByRole('region', { name: `The line to ${name}` });
    await expect(line.getByLabel('Its picture is')).toHaveValue('landscape');
    await line.getByLabel('Lines').selectOption('480');
    await line.getByLabel('Frames a second').selectOption('30');
    await line.getByLabel('kbit/s').fill('1500');
    await line.getByRole('button', { name: 'Save' }).click();
    await expect(line.getByText('Said by the team.')).toBeVisible();
  }
  expect(await violations(teo)).toEqual([]);

  // Said beforehand, beside the choice of the picture.
  await teo.goto(READY_SHOW);
  const gets = feeds(teo).getByRole('list', { name: 'What the places get' });
  await expect(gets).toContainText('Cedar, Dogwood: 854x480, 30 frames/s, 1.3 Mbit/s. Encoded at the relay');
  await expect(gets).toContainText(
    'Elder: 360x640, 15 frames/s, 0.6 Mbit/s (upright, one half above the other). Encoded at the relay',
  );
  await composeHost(teo);
  await startOnAir(teo, 'Start everywhere', 'Start everywhere now');
  const board = feeds(teo);
  for (const { name } of plain)
    await expect(board.getByRole('button', { name: `End the feed to ${name}` })).toBeVisible({
      timeout: 60_000,
    });
  const enough = (place: PlainPlace) =>
    expect
      .poll(() => statSync(place.received, { throwIfNoEntry: false })?.size ?? 0, { timeout: 90_000 })
      .toBeGreaterThan(500_000);
  for (const { place } of plain) await enough(place);
  await board.getByRole('button', { name: 'Elder, look closely' }).click();
  const sheet = teo.getByRole('dialog', { name: 'Elder' });
  await expect(sheet.getByText('It gets a picture of its own, encoded at the relay: 360x640')).toBeVisible();
  await sheet.getByRole('button', { name: 'Close' }).click();
  await endShow(teo);

  for (const at of [emberplay, kitefield]) {
    await expect.poll(async () => (await at.lastArrival()).endedAtMs, { timeout: 30_000 }).not.toBeNull();
    const { health } = await at.lastArrival();
    expect(health.video).toMatchObject({ codec: 'h264', width: 1280, height: 720 });
    // Where the machine is taken, a keyframe is as late as the frame that it is.
    expect(health.warnings.filter((warning) => !warning.startsWith('keyframes'))).toEqual([]);
  }
  const formats: [number, number, number][] = [
    [1280, 720, 4500],
    [1280, 720, 4500],
    [854, 480, 1500],
    [854, 480, 1500],
    [360, 640, 800],
  ];
  for (const [i, [width, height, mostKbps]] of formats.entries()) {
    const { name, place } = plain[i]!;
    await place.ended;
    const got = probe(place.received);
    expect({ name, ...got }).toMatchObject({
      name,
      codecs: ['aac', 'h264'],
      width,
      height,
      sampleRate: 48_000,
    });
    const times = got.videoFrames.map(({ at }) => at);
    const seconds = times.at(-1)! - times[0]!;
    expect((statSync(place.received).size * 8) / 1000 / seconds).toBeLessThan(mostKbps);
    expect(Math.max(...steps(got.audioFrames))).toBeLessThan(0.03);
    expect(longestGroup(got.videoFrames)).toBeLessThan(2.1);
    // Of 30 frames every second one, however many of them the desk made.
    if (height === 640) expect(Math.min(...steps(times))).toBeGreaterThan(0.05);
  }
});
