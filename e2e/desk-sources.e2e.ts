import { endReadyShow, READY_SHOW } from './support/desk';
import { expect, test } from './support/house';
import { probe, watchSpot } from './support/media';
import { lastArrival } from './support/place';
import { LAUNCH_WITH_TWO_CAMERAS, plugIn, stopSharing, unplug, withPlugs } from './support/plugs';
import { endShow, onAir, pictures, startFeed } from './support/spine';

/** What a desk puts into the picture: cameras that come and go, and a screen. */
test.use({ launchOptions: LAUNCH_WITH_TWO_CAMERAS });
test.describe.configure({ timeout: 240_000 });

test.afterEach(({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

const TEO = 'Teo Marchetti-Lunn';
const SCREEN = `Screen of ${TEO}`;

test('a camera is lost and comes back, a second one joins it, and a screen is shared and ended', async ({
  as,
}) => {
  const teo = await as('Teo');
  await withPlugs(teo);
  await teo.goto(READY_SHOW);
  await teo.getByRole('button', { name: 'Compose here' }).click();
  await teo.getByRole('button', { name: `Camera for ${TEO}` }).click();
  await teo.getByRole('button', { name: `Bring on ${TEO}` }).click();
  const stage = teo.getByRole('region', { name: 'Stage' });
  await expect(stage.getByText('Producer, camera')).toBeVisible();
  await startFeed(teo);
  await onAir(teo);

  // The camera is pulled out: another that is left shows, until it is back.
  await unplug(teo);
  const replaced = stage.getByText('The camera is gone; another one shows until it is back.');
  await expect(replaced).toBeVisible();
  await plugIn(teo);
  await expect(replaced).toBeHidden();

  // A screen waits in the wings until it is brought on.
  const dialog = teo.getByRole('dialog', { name: 'Sources of this desk' });
  const open = async () => {
    await teo.getByRole('button', { name: 'Sources' }).click();
    await expect(dialog).toBeVisible();
  };
  await open();
  await dialog.getByRole('button', { name: 'Share a screen…' }).click();
  await expect(dialog.getByText(SCREEN)).toBeVisible();
  // A second camera, by its name; whoever is heard already is not heard twice.
  await expect(dialog.getByRole('combobox', { name: 'Microphone' })).toHaveValue('none');
  await dialog.getByRole('combobox', { name: 'Camera' }).selectOption({ label: 'fake_device_1' });
  await dialog.getByRole('button', { name: 'Add camera' }).click();
  await expect(dialog.getByText(`Camera of ${TEO}, no. 2`)).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();

  const before = await pictures();
  await expect.poll(pictures).toBeGreaterThan(before + 45);
  await teo.getByRole('button', { name: `Bring on ${SCREEN}` }).click();
  await expect(stage.getByText(SCREEN)).toBeVisible();
  await expect(teo.getByRole('button', { name: 'Column' })).toBeVisible();
  await teo.getByRole('button', { name: `Bring on Camera of ${TEO}, no. 2` }).click();
  const shared = await pictures();
  await expect.poll(pictures).toBeGreaterThan(shared + 90);

  // Ended in the browser's own bar: nobody looks at an empty screen.
  await stopSharing(teo);
  await expect(teo.getByText('The screen is shared no longer. It is off the programme.')).toBeVisible();
  await expect(teo.getByText(SCREEN)).toHaveCount(0);
  const ended = await pictures();
  await expect.poll(pictures).toBeGreaterThan(ended + 60);
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const seconds = probe(received).videoFrames.at(-1)!.at;
  // Two spots: both within whoever is alone; then the backdrop, beside the screen and between two people.
  const left = watchSpot(received, seconds, 300, 60, 4);
  const right = watchSpot(received, seconds, 1100, 360, 4);
  const isCamera = ([r, g, b]: readonly number[]) => g! > 110 && r! < 40 && b! < 40;
  // The warm brown behind everybody, from its darker to its lighter end.
  const isBackdrop = ([r, g, b]: readonly number[]) => r! > 30 && r! < 95 && r! > g! + 8 && g! > b!;
  const both = left.map((spot, i) => [spot, right[i]!] as const);
  const alone = both.findLastIndex(([one, other]) => isCamera(one) && isCamera(other));
  const withScreen = both.slice(alone).filter(([one, other]) => isBackdrop(one) && isBackdrop(other));
  expect(alone).toBeGreaterThan(8);
  expect(withScreen.length).toBeGreaterThan(8);
  // The first camera again, in its place beside the second.
  expect(isCamera(left.at(-1)!)).toBe(true);
  // It was gone for a moment, and did not come and go.
  const isMissing = ([r, g, b]: readonly number[]) =>
    Math.abs(r! - 27) < 4 && Math.abs(g! - 33) < 4 && Math.abs(b! - 29) < 4;
  const gone = left.map(isMissing);
  expect(gone.filter((one, i) => one && !gone[i - 1]).length).toBeLessThan(4);
});
