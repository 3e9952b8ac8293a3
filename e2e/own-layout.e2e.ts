import { violations } from './support/axe';
import { dropLayouts, endReadyShow, ODALYS, PASCOE, READY_SHOW } from './support/desk';
import { expect, test } from './support/house';
import { isPaper, probe, watchSpot } from './support/media';
import { lastArrival } from './support/place';
import { composePair, endShow, onAir, pictures, startFeed } from './support/spine';

/** A layout that somebody makes by hand: unseen while it is made, kept for the next time, and seen at the receiving place. */
test.describe.configure({ timeout: 240_000 });
test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
  await dropLayouts(playwright, baseURL!);
});

/** Where the guest stands in a pair, and nobody in the layout that is made. */
const RIGHT = [1150, 150] as const;
/** Where nobody stands in a pair, and the guest in the layout that is made: at its very edge. */
const EDGE = [1270, 650] as const;
/** The ground of the guest's pattern. */
const GUEST = [0x7a, 0x3f, 0x6b];
const isGuest = (got: readonly number[]) => got.every((value, i) => Math.abs(value - GUEST[i]!) < 24);

test('a layout is dragged on what comes next, kept, taken, and used at another desk', async ({ as }) => {
  const teo = await as('Teo');
  await composePair(teo);
  await startFeed(teo);
  await onAir(teo);
  const first = await pictures();
  await expect.poll(pictures).toBeGreaterThan(first + 45);

  // Made at another desk, to which no pictures come.
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  await expect(odalys.getByRole('img', { name: /The programme’s picture/ })).toBeVisible();
  await odalys.keyboard.press('y');
  const panel = odalys.getByRole('dialog', { name: 'A layout of your own' });
  await expect(panel).toBeVisible();
  const guest = odalys.getByRole('button', { name: /^Place 2 Pascoe/ });
  const stood = (await guest.boundingBox())!;
  await odalys.mouse.move(stood.x + stood.width / 2, stood.y + stood.height / 2);
  await odalys.mouse.down();
  // Beyond the corner: it stays in the picture.
  await odalys.mouse.move(stood.x + stood.width, stood.y + stood.height * 2, { steps: 5 });
  await odalys.mouse.up();
  await panel.getByLabel('Height, %').fill('40');
  await panel.getByLabel('Height, %').press('Tab');
  await panel.getByLabel('Top, %').fill('60');
  await panel.getByLabel('Top, %').press('Tab');
  await expect(guest).toHaveAccessibleName(/60 % from the top, .* 40 % high/);
  expect(await violations(odalys)).toEqual([]);
  await panel.getByLabel('Name', { exact: true }).fill('Guest below');
  await panel.getByRole('button', { name: 'Keep this layout' }).click();
  await expect(panel.getByText('Guest below is kept')).toBeVisible();
  // The desk that composes has a key for it at once.
  const key = teo.getByRole('button', { name: 'Guest below', exact: true });
  await expect(key).toHaveAttribute('aria-pressed', 'true');
  const unseen = await pictures();
  await expect.poll(pictures).toBeGreaterThan(unseen + 45);

  await odalys.getByLabel('by').selectOption({ label: 'a cut' });
  await odalys.getByRole('button', { name: 'Take', exact: true }).click();
  // Taken: what is made is not put into whatever comes next.
  await expect(panel).toHaveCount(0);
  const taken = await pictures();
  await expect.poll(pictures).toBeGreaterThan(taken + 60);

  // Back to the pair, and to the layout once more by its key, over a reload.
  await teo.keyboard.press('t');
  await teo.keyboard.press('b');
  const back = await pictures();
  await expect.poll(pictures).toBeGreaterThan(back + 60);
  await teo.reload();
  await expect(teo.getByText('The relay has the programme.')).toBeVisible();
  await key.click();
  await expect(key).toHaveAttribute('aria-pressed', 'true');
  const again = await pictures();
  await expect.poll(pictures).toBeGreaterThan(again + 60);
  await expect(
    odalys.getByRole('img', { name: `The programme’s picture: ${ODALYS}, ${PASCOE}`, exact: true }),
  ).toBeVisible();
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received, health } = await lastArrival();
  expect(health).toMatchObject({ notRising: 0, formatChanges: 0 });
  const seconds = probe(received).videoFrames.at(-1)!.at;
  const edge = watchSpot(received, seconds, ...EDGE, 8).map(isGuest);
  const right = watchSpot(received, seconds, ...RIGHT, 8);
  // Unseen while it was made; then there, gone again, and there to the end.
  const turns = edge.filter((isThere, i) => i > 0 && isThere !== edge[i - 1]);
  expect(edge[0]).toBe(false);
  expect(turns).toEqual([true, false, true]);
  edge.forEach((isThere, i) => {
    if (isThere && edge[i - 1] && edge[i + 1]) expect(isGuest(right[i]!) || isPaper(right[i]!)).toBe(false);
  });
});
