import type { Locator } from '@playwright/test';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { violations } from './support/axe';
import { addPattern, composeHost, dressAs, dressingOf, endReadyShow, PASCOE } from './support/desk';
import { expect, test } from './support/house';
import { probe, watchSpot } from './support/media';
import { lastArrival } from './support/place';
import { endShow, onAir, pictures, startFeed } from './support/spine';

/** How a programme looks: changed by one while another composes, and seen by viewers at once. */
test.describe.configure({ timeout: 240_000 });

const SERIES = 'The Proving Hour';
let before: Awaited<ReturnType<typeof dressingOf>>;
test.beforeEach(async ({ playwright, baseURL }) => {
  before = await dressingOf(playwright, baseURL!, SERIES);
});
test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
  await dressAs(playwright, baseURL!, before);
});

/** On the plate of whoever stands alone: its paper, right of the words. */
const PLATE = [820, 582] as const;
/** On the words of the house, in the upper right corner: their paper, above the letters. */
const BUG = [1190, 40] as const;
const [CREAM, GREEN] = [
  [0xfb, 0xf4, 0xe8],
  [0x9f, 0xd8, 0xb0],
] as const;
const isNear = (got: readonly number[], wanted: readonly number[]) =>
  got.every((value, i) => Math.abs(value - wanted[i]!) < 24);

const colourOf = (canvas: Locator, x: number, y: number) =>
  canvas.evaluate(
    (element: HTMLCanvasElement, at) => [
      ...element
        .getContext('2d')!
        .getImageData(at.x * element.width, at.y * element.height, 1, 1)
        .data.slice(0, 3),
    ],
    { x, y },
  );

test('a dressing is changed while the show is on air, and viewers see it at once', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await startFeed(teo);
  await onAir(teo);
  const first = await pictures();
  await expect.poll(pictures).toBeGreaterThan(first + 45);

  const odalys = await as('Odalys');
  await odalys.goto('/dressing');
  await odalys.getByLabel('For', { exact: true }).selectOption({ label: SERIES });
  await expect(odalys.getByText(`${SERIES} has a dressing of its own.`)).toBeVisible();
  const preview = odalys.getByRole('img', { name: 'Preview: a viewer’s message' });
  const paper = () => colourOf(preview, 0.92, 0.77);
  await expect.poll(paper).toEqual([...CREAM]);
  expect(await violations(odalys)).toEqual([]);

  // Seen on the page first, and measured; viewers see what is saved.
  await odalys.getByLabel('Paper, under words').fill('#2a2c14');
  await expect(odalys.getByText(/^Ink on paper: 1\.\d to 1\. That is hard to see/)).toBeVisible();
  await odalys.getByLabel('Paper, under words').fill('#9fd8b0');
  await expect(odalys.getByText(/^Ink on paper: \d+\.\d to 1, easy to see/)).toBeVisible();
  await expect.poll(paper).toEqual([...GREEN]);
  await expect(odalys.getByText('Not saved yet.')).toBeVisible();
  await odalys.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(odalys.getByText('Saved.', { exact: true })).toBeVisible();
  const saved = await pictures();
  await expect.poll(pictures).toBeGreaterThan(saved + 75);
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const seconds = probe(received).videoFrames.at(-1)!.at;
  for (const spot of [PLATE, BUG]) {
    const seen = watchSpot(received, seconds, spot[0], spot[1], 4);
    const [cream, green] = [CREAM, GREEN].map((wanted) => seen.map((one) => isNear(one, wanted)));
    expect(cream!.filter(Boolean).length).toBeGreaterThan(3);
    expect(green!.filter(Boolean).length).toBeGreaterThan(3);
    // Once, and for good.
    expect(cream!.lastIndexOf(true)).toBeLessThan(green!.indexOf(true));
  }
});

/**
 * In the corner of the picture, left of the logo's right edge; on the backdrop, which a pair leaves free at the foot; and where
 * the slate shows it and a pair does not.
 */
const [LOGO, GROUND, SLATE] = [
  [1200, 58],
  [640, 704],
  [100, 100],
] as const;
const [BLUE, RED] = [
  [0x10, 0x30, 0xd0],
  [0xc0, 0x18, 0x18],
] as const;

test('a logo and a picture behind everybody are chosen, and a drawing that runs something is refused', async ({
  as,
}) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await addPattern(teo, PASCOE);
  await teo.getByRole('button', { name: `Bring on ${PASCOE}` }).click();
  await startFeed(teo);
  await onAir(teo);

  const odalys = await as('Odalys');
  await odalys.goto('/dressing');
  await odalys.getByLabel('For', { exact: true }).selectOption({ label: SERIES });
  const drawing = (inside: string) => ({
    name: 'logo.svg',
    mimeType: 'image/svg+xml',
    buffer: Buffer.from(
      `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="50"><rect width="200" height="50" fill="#1030d0"/>${inside}</svg>`,
    ),
  });
  const logo = odalys.getByLabel('Choose a logo');
  await logo.setInputFiles(drawing('<script>alert(1)</script>'));
  await expect(odalys.getByText(/^This drawing has something in it that would run/)).toBeVisible();
  await logo.setInputFiles({ name: 'x.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
  await expect(odalys.getByText(/^This file is no picture that can be read/)).toBeVisible();
  await logo.setInputFiles(drawing(''));
  await expect(odalys.getByLabel('Choose another logo')).toBeAttached();
  await odalys.getByRole('button', { name: 'Picture', exact: true }).click();
  await expect(odalys.getByText('No picture yet: the plain ground is seen.')).toBeVisible();
  await odalys
    .getByLabel('Choose a picture')
    .setInputFiles(drawing('<rect width="200" height="50" fill="#c01818"/>'));
  await expect(odalys.getByLabel('Choose another picture')).toBeAttached();
  // A typeface of the house's own, by its file.
  const font = path.resolve(
    import.meta.dirname,
    '../node_modules/@fontsource/karla/files/karla-latin-400-normal.woff2',
  );
  const face = odalys.getByLabel('Own one for headings');
  await face.setInputFiles({ name: 'x.woff2', mimeType: 'font/woff2', buffer: Buffer.from('no font') });
  await expect(odalys.getByText(/^This file is no typeface that can be read/)).toBeVisible();
  await face.setInputFiles({
    name: 'Millrace.woff2',
    mimeType: 'font/woff2',
    buffer: readFileSync(font),
  });
  await expect(odalys.getByLabel('Names and headings')).toHaveValue('Millrace');
  const before = await pictures();
  await expect.poll(pictures).toBeGreaterThan(before + 45);
  await odalys.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(odalys.getByText('Saved.', { exact: true })).toBeVisible();
  const saved = await pictures();
  await expect.poll(pictures).toBeGreaterThan(saved + 120);
  // The slate is another, too, though the show was composed already.
  await teo.keyboard.press('x');
  await expect(teo.getByText('Viewers see the slate')).toBeVisible();
  const covered = await pictures();
  await expect.poll(pictures).toBeGreaterThan(covered + 60);
  await teo.keyboard.press('x');
  const back = await pictures();
  await expect.poll(pictures).toBeGreaterThan(back + 60);
  await endShow(teo);

  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  const { received } = await lastArrival();
  const seconds = probe(received).videoFrames.at(-1)!.at;
  const slate = watchSpot(received, seconds, SLATE[0], SLATE[1], 4).map((one) => isNear(one, RED));
  expect(slate.filter(Boolean).length).toBeGreaterThan(3);
  expect(slate.at(-1)).toBe(false);
  for (const [spot, colour] of [
    [LOGO, BLUE],
    [GROUND, RED],
  ] as const) {
    const seen = watchSpot(received, seconds, spot[0], spot[1], 4).map((one) => isNear(one, colour));
    expect(seen[0]).toBe(false);
    expect(seen.filter(Boolean).length).toBeGreaterThan(3);
    // Once, and for good; the slate has no logo.
    const after = seen.slice(seen.indexOf(true));
    expect(after.filter((is, i) => !is && !slate[seen.length - after.length + i]).length).toBeLessThan(2);
  }
});

test('two change one dressing, and nobody’s is lost unseen', async ({ as }) => {
  const [teo, odalys] = [await as('Teo'), await as('Odalys')];
  for (const page of [teo, odalys]) {
    await page.goto('/dressing');
    await page.getByLabel('For', { exact: true }).selectOption({ label: SERIES });
    await page.getByLabel('Words that always stand there').fill(page === teo ? 'From Teo' : 'From Odalys');
  }
  await teo.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(teo.getByText('Saved.', { exact: true })).toBeVisible();
  await odalys.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(odalys.getByText(/^Somebody else changed this dressing meanwhile/)).toBeVisible();
  await expect(odalys.getByLabel('Words that always stand there')).toHaveValue('From Odalys');
  await odalys.getByRole('button', { name: 'Back to what is saved' }).click();
  await expect(odalys.getByLabel('Words that always stand there')).toHaveValue('From Teo');

  const ingrid = await as('Ingrid');
  await ingrid.goto('/dressing');
  await expect(ingrid.getByText('A host or a producer changes it.')).toBeVisible();
  await expect(ingrid.getByLabel('Words that always stand there')).toBeDisabled();
});
