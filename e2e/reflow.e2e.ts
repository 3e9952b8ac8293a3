import { violations } from './support/axe';
import { READY_SHOW, READY_SHOW_ID } from './support/desk';
import { expect, test } from './support/house';
import { cutOff } from './support/reflow';

const TROUBLED_SHOW = '/shows/c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f03';
const VIEWS = [
  '/shows',
  '/season',
  '/destinations',
  '/rules',
  '/dressing',
  '/overlay-pages',
  '/team',
  '/shows/new',
  `/shows/${READY_SHOW_ID}`,
  TROUBLED_SHOW,
  `${TROUBLED_SHOW}/listings`,
  `${TROUBLED_SHOW}/launch`,
  `/shows/${READY_SHOW_ID}/ingest`,
  READY_SHOW,
  `/chat/${READY_SHOW_ID}`,
];

/** 1280x800 at 150 %, and a tablet (WCAG 2.2, 1.4.10). */
for (const [width, height] of [
  [853, 533],
  [1024, 768],
] as const) {
  test(`at ${width}x${height} nothing is cut off and nothing scrolls sideways`, async ({ as }) => {
    test.slow();
    const page = await as('Teo');
    await page.setViewportSize({ width, height });
    for (const path of VIEWS) {
      await page.goto(path);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await page.waitForLoadState('networkidle');
      expect.soft(await cutOff(page), path).toEqual([]);
      expect.soft(await violations(page), path).toEqual([]);
    }
    await page.goto(READY_SHOW);
    await page.getByRole('button', { name: 'Compose here' }).click();
    await expect(page.getByRole('button', { name: 'Alone', exact: true })).toBeVisible();
    expect(await cutOff(page)).toEqual([]);
    expect(await violations(page)).toEqual([]);
  });
}

test('what is cut off is found: a page that scrolls sideways, and a key behind an edge', async ({ page }) => {
  await page.setContent(`
    <div style="width: 3000px">wide</div>
    <div style="overflow: hidden; width: 80px; height: 30px">
      <button style="width: 200px; height: 20px">half a key</button>
    </div>
    <div style="overflow: auto; width: 80px"><p style="width: 200px">to the side</p></div>
    <div style="overflow: auto; height: 20px"><p>one</p><p>and below</p></div>`);
  expect((await cutOff(page)).map((one) => one.split(':')[0])).toEqual([
    expect.stringMatching(/^the page is \d+ wide/),
    'cut off at the side',
    'to be scrolled to sideways',
  ]);
});

test('where there is no room for both, messages and feeds share one side of the desk', async ({ as }) => {
  const page = await as('Teo');
  await page.setViewportSize({ width: 1024, height: 768 });
  await page.goto(READY_SHOW);
  const [messages, feeds] = ['Viewers’ messages', 'Feeds'].map((name) => page.getByRole('region', { name }));
  await expect(messages!).toBeVisible();
  await expect(feeds!).toBeHidden();
  await page.getByRole('button', { name: 'Feeds', exact: true }).click();
  await expect(feeds!).toBeVisible();
  await expect(messages!).toBeHidden();
  await page.getByRole('button', { name: 'Messages', exact: true }).first().click();
  await expect(messages!).toBeVisible();
  // A feed’s key is armed first: nobody arms what they do not see. No feed has this one.
  await page.keyboard.press('Shift+Digit9');
  await expect(feeds!).toBeVisible();
  // And a key of the messages shows them again, before it does anything.
  await page.keyboard.press('ArrowDown');
  await expect(messages!).toBeVisible();
  await expect(feeds!).toBeHidden();
  // Both at once on a laptop.
  await page.setViewportSize({ width: 1280, height: 800 });
  for (const part of [messages!, feeds!]) await expect(part).toBeVisible();
  await expect(page.getByRole('group', { name: 'Beside the programme' })).toBeHidden();
});
