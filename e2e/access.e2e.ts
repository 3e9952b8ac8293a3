import { violations } from './support/axe';
import { ODALYS, READY_SHOW } from './support/desk';
import { expect, makeShow, newTitle, test } from './support/house';

/** The demo's show with something wrong at each of its destinations. */
const TROUBLED_SHOW = '/shows/c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f03';
const VIEWS: [string, string][] = [
  ['/shows', 'Shows'],
  ['/season', 'Season'],
  ['/destinations', 'Destinations'],
  ['/rules', 'Rules of places and of the house'],
  ['/dressing', 'Dressing'],
  ['/overlay-pages', 'Overlay page'],
  ['/team', 'Team'],
  ['/shows/new', 'New show'],
  [`${TROUBLED_SHOW}/listings`, 'Listings and slots'],
  [`${TROUBLED_SHOW}/launch`, 'Launch sheet'],
  [`${TROUBLED_SHOW}/ingest`, 'Outside pictures'],
  ['/pieces', 'Pieces of the look'],
  ['/nowhere', 'There is nothing at this address'],
];
for (const [path, heading] of VIEWS) {
  test(`no violation in ${path}`, async ({ as }) => {
    const page = await as('Teo');
    await page.goto(path);
    await expect(page.getByRole('heading', { name: heading, level: 1 })).toBeVisible();
    await page.waitForLoadState('networkidle');
    expect(await violations(page)).toEqual([]);
  });
}

test('no violation in a show, its conflict dialog aside, and on its desk', async ({ as }) => {
  const page = await as('Teo');
  await page
    .getByRole('row', { name: /Cold dough/ })
    .getByRole('button')
    .click();
  await page.getByRole('link', { name: 'Open the plan' }).click();
  await expect(page.getByLabel('Title', { exact: true })).toHaveValue(/Cold dough/);
  await page.getByLabel('Day').fill('2027-03-28');
  await page.getByLabel('Time', { exact: true }).fill('02:30');
  await page.getByLabel('Time zone').fill('Europe/Berlin');
  await expect(page.getByText('skip this time')).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.getByRole('button', { name: 'Undo changes' }).click();
  await page.getByRole('link', { name: 'To the desk' }).click();
  await expect(page.getByRole('heading', { name: 'Programme' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys of the desk' })).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

test('no violation at the doors', async ({ page }) => {
  for (const path of ['/sign-in', '/invitation', '/new-password', '/guest']) {
    await page.goto(path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await page.waitForLoadState('networkidle');
    expect(await violations(page)).toEqual([]);
  }
});

test('a show is made, saved and found with the keyboard alone', async ({ page }) => {
  const title = newTitle('By keyboard');
  const press = (key: string) => page.keyboard.press(key);
  const tabTo = async (name: RegExp) => {
    for (let i = 0; i < 60; i++) {
      await press('Tab');
      const focused = await page.evaluate(() => {
        const element = document.activeElement as HTMLElement;
        const label = (element as HTMLInputElement).labels?.[0]?.textContent ?? '';
        return `${element.getAttribute('aria-label') ?? ''} ${label} ${element.textContent ?? ''}`;
      });
      if (name.test(focused)) return;
    }
    throw new Error(`the keyboard does not reach ${name}`);
  };
  await page.goto('/sign-in');
  await expect(page.getByRole('button', { name: /Odalys/ })).toBeVisible();
  await tabTo(/Odalys/);
  await press('Enter');
  await expect(page.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
  await tabTo(/New show/);
  await press('Enter');
  await expect(page.getByLabel('Title', { exact: true })).toBeVisible();
  await tabTo(/^\s*Title/);
  await page.keyboard.type(title);
  await press('Control+s');
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
  await tabTo(/All shows/);
  await press('Enter');
  await tabTo(new RegExp(title));
  await press('Enter');
  await expect(page.getByRole('region', { name: 'Chosen show' })).toContainText(title);
});

test('the skip link leads past the navigation', async ({ as }) => {
  const page = await as('Odalys');
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
  await page.keyboard.press('Tab');
  await expect(page.getByRole('link', { name: 'Skip to the content' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('main')).toBeFocused();
});

test('the desk fits without scrolling, and its keys do not fire while somebody types', async ({ as }) => {
  const page = await as('Odalys');
  const title = newTitle('Desk keys');
  await makeShow(page, title);
  await page.getByRole('link', { name: 'To the desk' }).click();
  // The plan has the title, too: only the desk has this one.
  await expect(page.getByRole('heading', { name: 'Programme' })).toBeVisible();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  const overflow = await page.evaluate(() => ({
    height: document.documentElement.scrollHeight - innerHeight,
    width: document.documentElement.scrollWidth - innerWidth,
  }));
  expect(overflow).toEqual({ height: 0, width: 0 });
  await page.keyboard.press('F6');
  await expect(page.getByRole('region', { name: 'Viewers’ messages' })).toBeFocused();
  await page.evaluate(() => {
    const field = document.body.appendChild(document.createElement('input'));
    field.focus();
  });
  await page.keyboard.type('p?');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.getByRole('heading', { name: 'Programme' })).toBeVisible();
  await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  await page.keyboard.press('p');
  await expect(page).toHaveURL(/\/shows\//);
});

test('what is done with the keyboard leaves it where the next thing is done', async ({ as }) => {
  const teo = await as('Teo');
  await teo.goto(READY_SHOW);
  const key = (name: string) => teo.getByRole('button', { name });
  await key('Compose here').focus();
  await teo.keyboard.press('Enter');
  await expect(key('Auto')).toBeFocused();
  await teo.keyboard.press('o');
  const sources = teo.getByRole('dialog', { name: 'Sources of this desk' });
  await sources.getByLabel('Whose').selectOption({ label: ODALYS });
  expect(await violations(teo)).toEqual([]);
  await sources.getByRole('button', { name: 'Add test pattern' }).focus();
  await teo.keyboard.press('Enter');
  await teo.keyboard.press('Escape');
  await expect(key('Auto')).toBeFocused();
  await key(`Bring on ${ODALYS}`).focus();
  await teo.keyboard.press('Enter');
  await expect(key(`Take off ${ODALYS}`)).toBeFocused();
  await teo.keyboard.press('Enter');
  await expect(key(`Bring on ${ODALYS}`)).toBeFocused();
  // Who is there stands first, counted; who is not is one line.
  const wings = teo.getByRole('region', { name: 'Wings' });
  await expect(wings.getByText('1 here', { exact: true })).toBeVisible();
  await expect(wings.getByText(/^\d not here yet$/)).toBeVisible();
  await expect(wings.getByText('Ingrid Sauvage')).toBeHidden();
  await expect(key(`Camera for Teo Marchetti-Lunn`)).toBeVisible();
  await wings.getByText(/^\d not here yet$/).click();
  await expect(wings.getByText('Ingrid Sauvage')).toBeVisible();
});

test('one key leads from the board to the desk, and characters alone can be switched off', async ({ as }) => {
  const page = await as('Teo');
  await page
    .getByRole('row', { name: /Cold dough/ })
    .getByRole('button')
    .click();
  const chosen = page.getByRole('region', { name: 'Chosen show' });
  await expect(chosen.getByRole('heading', { name: /Cold dough/ })).toBeVisible();
  await page.keyboard.press('d');
  await expect(page.getByRole('heading', { name: /Cold dough/, level: 1 })).toBeVisible();
  const keys = page.getByRole('button', { name: 'Keys' });
  const alone = page.getByRole('checkbox', { name: /^Letters, digits and signs alone/ });
  await page.keyboard.press('?');
  await alone.uncheck();
  await page.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('p');
  // Still here: the key did nothing. On again, it leads to the plan.
  await keys.click();
  await alone.check();
  expect(await violations(page)).toEqual([]);
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(alone).toBeHidden();
  await page.keyboard.press('p');
  await expect(page.getByLabel('Title', { exact: true })).toHaveValue(/Cold dough/);
});
