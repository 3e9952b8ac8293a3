import {
  composeHost,
  endReadyShow,
  guestGoesIn,
  makeLink,
  messages,
  PASCOE,
  pressTwice,
  READY_SHOW,
  startOnAir,
} from '../support/desk';
import { violations } from '../support/axe';
import { expect, pidOf, test } from '../support/house';
import { readPair } from '../support/media';
import { type Arrived, emberplay } from '../support/place';

/** Guests, and what goes wrong with them. */
test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
});

test('a link works in one place at a time, and a reload comes back into it', async ({ as, browser }) => {
  const link = await makeLink(await as('Teo'));
  const first = await guestGoesIn(browser, link);
  await first.reload();
  await expect(first.getByText('In the wings', { exact: true })).toBeVisible();

  const second = await guestGoesInElsewhere();
  await expect(second.getByText('It works in one place at a time.', { exact: false })).toBeVisible();
  expect(await violations(second)).toEqual([]);
  await second.getByRole('button', { name: 'Go on here' }).click();
  await expect(second.getByText('In the wings', { exact: true })).toBeVisible();
  await expect(first.getByText('used in another place now', { exact: false })).toBeVisible();
  for (const page of [first, second]) await page.context().close();

  async function guestGoesInElsewhere() {
    const page = await (await browser.newContext()).newPage();
    await page.goto(link);
    await page.getByRole('button', { name: 'Use a test picture instead' }).click();
    await page.getByRole('button', { name: 'Go in' }).click();
    return page;
  }
});

test('a link that is taken back puts its guest out at once', async ({ as, browser }) => {
  const teo = await as('Teo');
  const pascoe = await guestGoesIn(browser, await makeLink(teo));
  await teo.getByRole('button', { name: /Revoke the link of Pascoe/ }).click();
  await teo.getByRole('button', { name: 'Press again to revoke' }).click();
  await expect(pascoe.getByText('Your link does not work any more', { exact: false })).toBeVisible();
  await pascoe.reload();
  await expect(pascoe.getByRole('alert')).toBeVisible();
  await pascoe.context().close();
});

test('a refused camera and a browser that cannot are said plainly', async ({ as, browser }) => {
  const link = await makeLink(await as('Teo'));
  const refused = await (await browser.newContext()).newPage();
  await refused.addInitScript(() => {
    navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('no', 'NotAllowedError'));
  });
  await refused.goto(link);
  await refused.getByRole('button', { name: 'Try camera and microphone' }).click();
  await expect(
    refused.getByText('The browser was told not to give the camera', { exact: false }),
  ).toBeVisible();
  expect(await violations(refused)).toEqual([]);
  await refused.getByRole('button', { name: 'Use a test picture instead' }).click();
  await expect(refused.getByRole('button', { name: 'Go in' })).toBeVisible();
  expect(await violations(refused)).toEqual([]);

  const old = await (await browser.newContext()).newPage();
  await old.addInitScript(() => Reflect.deleteProperty(window, 'RTCPeerConnection'));
  await old.goto(link);
  await expect(old.getByText('This browser cannot send picture and sound.', { exact: false })).toBeVisible();
  for (const page of [refused, old]) await page.context().close();
});

test('a made-up guest comes at one key, talks, and goes', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await teo.keyboard.press('i');
  const bringOn = teo.getByRole('button', { name: 'Bring on Benedikt Achterberg' });
  await expect(bringOn).toBeVisible({ timeout: 60_000 });
  await bringOn.click();
  await teo.keyboard.press('r');
  await startOnAir(teo, /Start the feed to Emberplay/, 'Start now');
  await expect(teo.getByText('Seen from outside.')).toBeVisible();
  const before = (await emberplay.lastArrival()).health.pictures;
  await expect.poll(async () => (await emberplay.lastArrival()).health.pictures).toBeGreaterThan(before + 90);
  await pressTwice(teo, 'End show', 'End everywhere now');
  await expect.poll(async () => (await emberplay.lastArrival()).endedCleanly).toBe(true);
  // The last of it: on a slow machine his first picture comes some seconds after the feed.
  const [, right] = readPair((await emberplay.lastArrival()).received, 2, 1).at(-1)!;
  // His ground: a dark teal, unlike the empty tile's near black.
  const [r, g, b] = right!.colour;
  expect(g).toBeGreaterThan(r + 25);
  expect(b).toBeGreaterThan(r + 20);
  // Everybody is off the stage once the show has ended.
  await teo.getByRole('button', { name: 'Send away Benedikt Achterberg' }).click();
  await expect(teo.getByText('Benedikt Achterberg')).toHaveCount(0);
});

test('nobody falls silent or out of the programme unnoticed', async ({ as, browser }) => {
  const teo = await as('Teo');
  const pascoe = await guestGoesIn(browser, await makeLink(teo));
  await teo.goto(READY_SHOW);
  await teo.getByRole('button', { name: 'Compose here' }).click();
  await teo.getByRole('button', { name: `Bring on ${PASCOE}` }).click();
  await startOnAir(teo, /Start the feed to Emberplay/, 'Start now');
  await expect(pascoe.getByText('On air', { exact: true })).toBeVisible();

  // The only one on stage is not heard: that is said, after a pause that nobody makes.
  await pascoe.getByRole('button', { name: 'Sound on' }).click();
  const silent = teo.getByRole('alert').getByText('Viewers hear nothing. Is a microphone off?');
  await expect(silent).toBeVisible({ timeout: 40_000 });
  await pascoe.getByRole('button', { name: 'Sound off' }).click();
  await expect(silent).toBeHidden();

  // One wrong press takes nobody off the air.
  const again = pascoe.getByRole('button', { name: 'Press again: you are in the programme' });
  await pascoe.getByRole('button', { name: 'Leave', exact: true }).click();
  await expect(again).toBeVisible();
  await expect(pascoe.getByText('On air', { exact: true })).toBeVisible();
  await again.click();
  await expect(pascoe.getByRole('button', { name: 'Go in' })).toBeVisible();
  await expect(teo.getByText('Guest, expected')).toBeVisible();
  await pascoe.context().close();
});

/** Pictures; from one look to the next it is less. A picture that cannot be read well gives any number. */
const ONE_MINUTE = 1800;

/** The newest picture of the guest, on the right of a pair, that can be read in the last two seconds that arrived; null: none. */
function guestsPicture({ received, health }: Arrived): number | null {
  const seen = readPair(received, Math.max(0, health.pictures / 30 - 2), 2);
  return seen.map(([, right]) => right!.number).findLast((number) => number !== null) ?? null;
}

test('the media server may die: everybody is back within seconds', async ({ as, browser }) => {
  const teo = await as('Teo');
  const pascoe = await guestGoesIn(browser, await makeLink(teo));
  await composeHost(teo);
  await teo.getByRole('button', { name: `Bring on ${PASCOE}` }).click();
  await teo.keyboard.press('r');
  await expect(pascoe.getByLabel('The programme')).toBeVisible();
  const old = pidOf('janus');
  process.kill(old, 'SIGKILL');
  await expect(pascoe.getByText('Picture and sound are interrupted', { exact: false })).toBeVisible();
  await expect.poll(() => pidOf('janus')).not.toBe(old);
  await expect(pascoe.getByText('Picture and sound are interrupted', { exact: false })).toBeHidden();
  await expect(teo.getByText('Guest, here by link')).toBeVisible();
  // The guest keeps their place, and their picture is in the programme again.
  await expect(pascoe.getByText('On stage', { exact: true })).toBeVisible();
  await startOnAir(teo, /Start the feed to Emberplay/, 'Start now');
  await expect(teo.getByText('Seen from outside.')).toBeVisible();
  // It goes on, however many of his pictures a second this machine carries: one that stands still carries one number.
  let [last, steps] = [0, 0];
  const goesOn = async () => {
    const picture = guestsPicture(await emberplay.lastArrival());
    if (picture === null) return steps;
    if (picture > last && picture < last + ONE_MINUTE) steps += 1;
    last = picture;
    return steps;
  };
  await expect.poll(goesOn, { timeout: 60_000 }).toBeGreaterThan(2);
  await pressTwice(teo, 'End show', 'End everywhere now');
  await expect.poll(async () => (await emberplay.lastArrival()).endedCleanly).toBe(true);
  await pascoe.context().close();
});

test('the desk shows no messages of another show', async ({ as }) => {
  const ingrid = await as('Ingrid');
  await ingrid.goto(READY_SHOW.replace('f01', 'f03'));
  await expect(
    messages(ingrid).getByText('Every message from every destination', { exact: false }),
  ).toBeVisible();
});
