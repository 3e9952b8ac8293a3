import type { Page } from '@playwright/test';
import { violations } from './support/axe';
import {
  addPattern,
  composeHost,
  endReadyShow,
  messages,
  ODALYS,
  PASCOE,
  pressTwice,
  READY_SHOW,
  READY_SHOW_ID,
} from './support/desk';
import { expect, makeShow, newTitle, save, test } from './support/house';
import { CARD_SPOT, isPaper, probe, watchSpot } from './support/media';
import { emberplay, lastArrival } from './support/place';
import { endShow, onAir, pictures, startFeed } from './support/spine';

/** The stage: put together by one, taken by another, and seen at the place. */
test.describe.configure({ timeout: 240_000 });

test.afterEach(({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

/** Of the picture: the right of a pair, and of somebody alone. */
const RIGHT = [1150, 100] as const;
/** Above the initials of somebody alone, on the ground that they stand on. */
const PORTRAIT = [640, 190] as const;
const isNear = (got: readonly number[], wanted: readonly number[]) =>
  got.every((value, i) => Math.abs(value - wanted[i]!) < 24);
/** The grounds of the patterns of the host, who stands alone, and of the guest, who comes beside her. */
const HOST = [0x2f, 0x5d, 0x8a];
const GUEST = [0x7a, 0x3f, 0x6b];

test('what comes next is put together unseen, taken at another desk, and found again after a reload', async ({
  as,
}) => {
  const teo = await as('Teo');
  await teo.goto(READY_SHOW);
  await teo.getByRole('button', { name: 'Compose here' }).click();
  for (const name of [ODALYS, PASCOE]) await addPattern(teo, name);
  await teo.getByRole('button', { name: `Bring on ${ODALYS}` }).click();
  await startFeed(teo);
  await onAir(teo);

  // Another desk, which has no pictures of its own, prepares what comes next.
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  const now = (who: string) =>
    odalys.getByRole('img', { name: `The programme’s picture: ${who}`, exact: true });
  const next = (who: string) => odalys.getByRole('img', { name: `What comes next: ${who}`, exact: true });
  await expect(now(ODALYS)).toBeVisible();
  await odalys.keyboard.press('b');
  await expect(next(ODALYS)).toBeVisible();
  await expect(teo.getByRole('img', { name: 'What comes next' })).toBeVisible();
  await odalys.getByRole('button', { name: `${PASCOE} in what comes next` }).click();
  await expect(next(`${ODALYS}, ${PASCOE}`)).toBeVisible();
  await expect(now(ODALYS)).toBeVisible();
  await odalys.getByLabel('by').selectOption({ label: 'a mix of 1.5 s' });
  expect(await violations(odalys)).toEqual([]);
  expect(await violations(teo)).toEqual([]);
  const unseen = await pictures();
  await expect.poll(pictures).toBeGreaterThan(unseen + 60);

  // Taken; what was there stands ready to go back to.
  await odalys.keyboard.press('t');
  await expect(now(`${ODALYS}, ${PASCOE}`)).toBeVisible();
  await expect(next(ODALYS)).toBeVisible();
  await expect(
    teo.getByRole('region', { name: 'Stage' }).getByRole('button', { name: /in what comes next/ }),
  ).toHaveCount(2);
  const taken = await pictures();
  await expect.poll(pictures).toBeGreaterThan(taken + 90);

  // The composing tab is loaded again, and another machine opens the desk: both find the stage as it was.
  await teo.reload();
  await expect(teo.getByRole('img', { name: 'What comes next' })).toBeVisible();
  const again = await as('Odalys');
  await again.goto(READY_SHOW);
  await expect(
    again.getByRole('img', { name: `The programme’s picture: ${ODALYS}, ${PASCOE}`, exact: true }),
  ).toBeVisible();
  await again.getByRole('button', { name: 'Drop next' }).click();
  await expect(next(ODALYS)).toHaveCount(0);
  const reloaded = await pictures();
  await expect.poll(pictures, { timeout: 40_000 }).toBeGreaterThan(reloaded + 60);
  await endShow(teo);
  await expect(now('nobody')).toBeVisible();

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received, health } = await lastArrival();
  expect(health).toMatchObject({ notRising: 0, formatChanges: 0 });
  const seconds = probe(received).videoFrames.at(-1)!.at;
  const spots = watchSpot(received, seconds, ...RIGHT, 10);
  const first = spots.findIndex((spot) => isNear(spot, GUEST));
  expect(first).toBeGreaterThan(0);
  // Before, the host alone filled the picture; on the way both were in it; and afterwards nobody went back.
  const before = spots.slice(0, first).filter((spot) => !isNear(spot, HOST));
  expect(spots.slice(0, first).filter((spot) => isNear(spot, HOST)).length).toBeGreaterThan(15);
  const isBetween = ([r]: readonly number[]) => r! > HOST[0]! + 8 && r! < GUEST[0]! - 8;
  expect(before.filter(isBetween).length).toBeGreaterThan(2);
  const after = spots.slice(first);
  expect(after.filter((spot) => isNear(spot, GUEST)).length).toBeGreaterThan(30);
  expect(after.some((spot) => isNear(spot, HOST))).toBe(false);
});

test('a message that is hidden leaves the programme at once, while the composing tab shows the plan', async ({
  as,
}) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await startFeed(teo);
  await onAir(teo);
  // Long enough to stand there for the rest of the show.
  const words = 'How warm may the flour be when it comes from the stones, and who watches over it at night';
  await emberplay.say('Fenna', `${words}? ${words}? ${words}?`);
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  await messages(ingrid).getByRole('listitem').filter({ hasText: words }).getByRole('button').first().click();
  await ingrid.keyboard.press('m');
  await expect(teo.getByText('On the programme', { exact: true })).toBeVisible();
  await teo.getByRole('link', { name: 'Plan' }).click();
  await expect(teo.getByLabel('Title', { exact: true })).toBeVisible();
  const shown = await pictures();
  await expect.poll(pictures).toBeGreaterThan(shown + 60);
  await pressTwice(ingrid, 'Hide', 'Hide it there too');
  await expect(ingrid.getByText('Hidden here and there.')).toBeVisible();
  const hidden = await pictures();
  await expect.poll(pictures).toBeGreaterThan(hidden + 120);
  await teo.getByRole('link', { name: 'To its desk' }).click();
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const spots = watchSpot(received, probe(received).videoFrames.at(-1)!.at, ...CARD_SPOT, 4).map(isPaper);
  const last = spots.lastIndexOf(true);
  expect(spots.filter(Boolean).length).toBeGreaterThan(4);
  // It would have stood there to the end.
  expect(spots.length - last).toBeGreaterThan(8);
});

test('a source is adjusted beside the picture, and viewers see it at once', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await startFeed(teo);
  await onAir(teo);
  await teo.getByRole('button', { name: `Adjust ${ODALYS}` }).click();
  const panel = teo.getByRole('dialog', { name: `Adjust ${ODALYS}` });
  await expect(panel.getByRole('slider', { name: 'Volume' })).toBeFocused();
  expect(await violations(teo)).toEqual([]);
  const off = panel.getByRole('button', { name: 'Picture off' });
  for (const pressed of ['true', 'false']) {
    await off.click();
    await expect(off).toHaveAttribute('aria-pressed', pressed);
    const before = await pictures();
    await expect.poll(pictures).toBeGreaterThan(before + 45);
  }
  // By keyboard, which moves the slider and no message.
  const closer = panel.getByRole('slider', { name: 'Closer' });
  await closer.focus();
  for (let i = 0; i < 10; i++) await teo.keyboard.press('ArrowUp');
  await expect(closer).toHaveValue('1.5');
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  await odalys.getByRole('button', { name: `Adjust ${ODALYS}` }).click();
  await expect(odalys.getByRole('slider', { name: 'Closer' })).toHaveValue('1.5');
  await odalys.getByRole('button', { name: 'As it comes' }).click();
  await expect(closer).toHaveValue('1');
  await teo.keyboard.press('Escape');
  await expect(panel).toBeHidden();
  await expect(teo.getByRole('button', { name: `Adjust ${ODALYS}` })).toBeFocused();
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const seconds = probe(received).videoFrames.at(-1)!.at;
  const shown = watchSpot(received, seconds, ...RIGHT, 4).map((spot) => isNear(spot, HOST));
  const [first, last] = [shown.indexOf(true), shown.lastIndexOf(true)];
  expect(shown.slice(first, last).filter((one) => !one).length).toBeGreaterThan(2);
  // Her initials stood there meanwhile, in the accent of the series.
  const isAccent = ([r, g, b]: readonly number[]) => r! > 140 && g! < 120 && b! < 90;
  const initials = watchSpot(received, seconds, ...PORTRAIT, 4).filter(isAccent);
  expect(initials.length).toBeGreaterThan(2);
});

test('names that run from the right or do not end, and two desks that take at the same moment', async ({
  as,
}) => {
  const teo = await as('Teo');
  await makeShow(teo, newTitle('Taken once'));
  const layla = 'ليلى بنت منصور الخبّاز';
  for (const [place, name] of [layla, 'Wilhelmina '.repeat(30)].entries()) {
    await teo.getByRole('button', { name: 'Add a guest' }).click();
    await teo.getByLabel(`Name of person ${place + 2}`).fill(name);
  }
  // As much of it as a plate can hold is taken, and seen while it is typed.
  const long = await teo.getByLabel('Name of person 3').inputValue();
  expect(long.length).toBeLessThanOrEqual(80);
  await save(teo);
  await teo.getByRole('link', { name: 'To the desk' }).click();
  await teo.getByRole('button', { name: 'Compose here' }).click();
  for (const name of [layla, long.trim()]) {
    await addPattern(teo, name);
    await teo.getByRole('button', { name: `Bring on ${name}` }).click();
  }
  const desk = teo.url();
  const odalys = await as('Odalys');
  await odalys.goto(desk);
  const now = (who: string) =>
    odalys.getByRole('img', { name: `The programme’s picture: ${who}`, exact: true });
  await expect(now(`${layla}, ${long.trim()}`)).toBeVisible();
  await odalys.keyboard.press('b');
  await odalys.getByRole('button', { name: `${layla} in what comes next` }).click();
  await expect(teo.getByRole('img', { name: 'What comes next' })).toBeVisible();
  await expect(
    odalys.getByRole('img', { name: `What comes next: ${long.trim()}`, exact: true }),
  ).toBeVisible();
  expect(await violations(teo)).toEqual([]);

  // Both orders are on their way before either of them arrives.
  const release = [teo, odalys].map(async (page) => {
    let asked!: () => void;
    let go!: () => void;
    const isAsked = new Promise<void>((done) => (asked = done));
    const mayGo = new Promise<void>((done) => (go = done));
    await page.route('**/stage', async (route) => {
      if (route.request().method() === 'POST') {
        asked();
        await mayGo;
      }
      await route.continue();
    });
    return { isAsked, go };
  });
  const [first, second] = await Promise.all(release);
  await teo.keyboard.press('t');
  await odalys.keyboard.press('t');
  await Promise.all([first!.isAsked, second!.isAsked]);
  first!.go();
  second!.go();
  const told = (page: Page) => page.getByText('Another desk took a moment before. Nothing was taken twice.');
  await expect.poll(async () => (await told(teo).count()) + (await told(odalys).count())).toBe(1);
  await expect(now(long.trim())).toBeVisible();
  await teo.unrouteAll({ behavior: 'ignoreErrors' });
  await odalys.unrouteAll({ behavior: 'ignoreErrors' });
});
