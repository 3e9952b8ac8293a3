import type { Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { violations } from './support/axe';
import { composeHost, dressAs, dressingOf, endReadyShow, READY_SHOW } from './support/desk';
import { expect, test } from './support/house';
import { spotsNow } from './support/media';
import { arrivals, lastArrival } from './support/place';
import { endShow, onAir, pictures, startFeed } from './support/spine';

/** Overlays of a house's own, one of which moves, and its slates: made on one page, used at the desk, and seen by viewers. */
test.describe.configure({ timeout: 240_000 });

const SERIES = 'The Proving Hour';
let before: Awaited<ReturnType<typeof dressingOf>>;
let room: string;
test.beforeEach(async ({ playwright, baseURL }) => {
  before = await dressingOf(playwright, baseURL!, SERIES);
  room = mkdtempSync(path.join(tmpdir(), 'juncta-overlays-'));
});
test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
  await dressAs(playwright, baseURL!, before);
  rmSync(room, { recursive: true });
});

/** Blue along the left edge of the picture, and nothing elsewhere. */
const SIDE = {
  name: 'Blue side.svg',
  mimeType: 'image/svg+xml',
  buffer: Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" width="1280" height="720"><rect width="40" height="720" fill="#0000ff"/></svg>',
  ),
};
/** In the upper middle: a second of red, then green for as long as it stays. */
function motion() {
  const file = path.join(room, 'Signal.webm');
  const ground = 'color=c=black@0.0:s=640x360:r=30:d=2,format=rgba';
  const [red, green] = ['red', 'lime'].map((colour) => `color=c=${colour}:s=640x60:r=30:d=2,format=rgba`);
  const filter =
    "[0][1]overlay=0:0:format=auto:enable='lt(t,1)'[a];[a][2]overlay=0:0:format=auto:enable='gte(t,1)',format=yuva420p";
  const inputs = [ground, red!, green!].flatMap((one) => ['-f', 'lavfi', '-i', one]);
  const output = ['-c:v', 'libvpx-vp9', '-auto-alt-ref', '0', file];
  execFileSync('ffmpeg', ['-v', 'error', ...inputs, '-filter_complex', filter, ...output]);
  return { name: 'Signal.webm', mimeType: 'video/webm', buffer: readFileSync(file) };
}

/** On the blue; in the strip that moves; where neither is. */
const SPOTS = { side: [18, 360], strip: [640, 40], free: [640, 120] } as const;
async function seen(spot: keyof typeof SPOTS): Promise<string> {
  const { received } = await lastArrival();
  const [colour] = spotsNow(received, SPOTS[spot]);
  const [red, green, blue] = colour!.map((value) => value > 150);
  const isDark = colour!.every((value) => value < 60);
  if (isDark) return 'dark';
  return red && !green && !blue
    ? 'red'
    : green && !red && !blue
      ? 'green'
      : blue && !red && !green
        ? 'blue'
        : 'other';
}

const panelOf = async (page: Page) => {
  await page.getByRole('button', { name: 'Graphics' }).click();
  return page.getByRole('dialog', { name: 'Graphics' });
};

test('overlays are added to a dressing, brought on and taken off, and viewers see what moves', async ({
  as,
}) => {
  const odalys = await as('Odalys');
  await odalys.goto('/dressing');
  await odalys.getByLabel('For', { exact: true }).selectOption({ label: SERIES });
  const add = odalys.getByLabel('Add an overlay');
  await add.setInputFiles({ name: 'x.webm', mimeType: 'video/webm', buffer: Buffer.from('nothing') });
  await expect(odalys.getByText(/^This file is no picture that can be read/)).toBeVisible();
  await add.setInputFiles(SIDE);
  await expect(odalys.getByRole('group', { name: 'Blue side' })).toBeVisible();
  await add.setInputFiles(motion());
  const moving = odalys.getByRole('group', { name: 'Signal' });
  await expect(moving).toBeVisible();
  await moving.getByLabel('Repeats after 2.0 s').uncheck();
  expect(await violations(odalys)).toEqual([]);
  await odalys.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(odalys.getByText('Saved.', { exact: true })).toBeVisible();

  const teo = await as('Teo');
  await composeHost(teo);
  await startFeed(teo);
  await onAir(teo);
  const graphics = await panelOf(teo);
  await graphics.getByRole('button', { name: 'Show: Blue side' }).click();
  await expect.poll(() => seen('side')).toBe('blue');
  await graphics.getByRole('button', { name: 'Show: Signal' }).click();
  // Played once, it stays as it ended.
  await expect.poll(() => seen('strip')).toBe('green');
  expect(await seen('side')).toBe('blue');
  expect(['red', 'green']).not.toContain(await seen('free'));
  expect(await violations(teo)).toEqual([]);
  // Another desk sees what is on, and takes it off.
  await odalys.goto(READY_SHOW);
  await expect(odalys.getByRole('img', { name: /Blue side, Signal/ })).toBeVisible();
  const hers = await panelOf(odalys);
  await hers.getByRole('button', { name: 'Take off: Blue side' }).click();
  await expect.poll(() => seen('side')).not.toBe('blue');
  expect(await seen('strip')).toBe('green');
  await endShow(teo);
});

test('viewers read the slate of before the show, and that of a break once they have seen the programme', async ({
  as,
}) => {
  const teo = await as('Teo');
  await composeHost(teo);
  const graphics = await panelOf(teo);
  await expect(graphics.getByText('It reads “The oven is warming up”.')).toBeVisible();
  await expect(graphics.getByRole('button', { name: 'before the show' })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await graphics.getByRole('button', { name: 'Close' }).click();
  await teo.keyboard.press('x');
  await expect(teo.getByText('Viewers see the slate')).toBeVisible();
  const earlier = (await arrivals()).length;
  await startFeed(teo);
  await expect.poll(async () => (await arrivals()).length).toBe(earlier + 1);
  await expect.poll(pictures).toBeGreaterThan(60);
  await expect.poll(lettersSeen).toEqual({ words: true, begins: true });
  await teo.keyboard.press('x');
  await panelOf(teo);
  await expect(graphics.getByText('It reads “The dough is resting”.')).toBeVisible();
  await graphics.getByRole('button', { name: 'Close' }).click();
  await teo.keyboard.press('x');
  await expect.poll(lettersSeen).toEqual({ words: true, begins: false });
  // At the end somebody says so.
  await panelOf(teo);
  await graphics.getByRole('button', { name: 'after the show' }).click();
  await expect(graphics.getByText('It reads “Until the next loaf”.')).toBeVisible();
  await endShow(teo);
});

/** Whether letters stand where a slate has its words, and where it says when the show begins. */
async function lettersSeen(): Promise<{ words: boolean; begins: boolean }> {
  const { received } = await lastArrival();
  const row = (y: number, height: number) =>
    Array.from(
      { length: 120 * (height / 4) },
      (_, i) => [400 + (i % 120) * 4, y + Math.floor(i / 120) * 4] as const,
    );
  const [words, begins] = [row(300, 48), row(528, 32)];
  const all = spotsNow(received, ...words, ...begins).map((colour) => colour.every((value) => value > 180));
  const are = (some: boolean[]) => some.filter(Boolean).length > 10;
  return { words: are(all.slice(0, words.length)), begins: are(all.slice(words.length)) };
}
