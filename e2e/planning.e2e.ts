import type { Page } from '@playwright/test';
import { violations } from './support/axe';
import { addresses, expect, makeShow, newTitle, test } from './support/house';
import { guildroad, kitefield, porchway } from './support/place';

const SHOW = (n: number) => `/shows/c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f0${n}`;

const row = (page: Page, place: string) => page.getByRole('row', { name: new RegExp(place) });
const finding = (page: Page, text: RegExp) =>
  page.getByRole('region', { name: 'Readiness' }).getByRole('listitem').filter({ hasText: text });

test('a producer mends what is wrong with a show, and books it everywhere', async ({ as }) => {
  const teo = await as('Teo');
  await teo.goto(`${SHOW(3)}/listings`);
  const tooLong = finding(teo, /title is 11 too long for Guildroad/);
  await expect(tooLong).toBeVisible();

  // One press mends it, another takes that back.
  await tooLong.getByRole('button', { name: /^Shorten/ }).click();
  await expect(tooLong).toHaveCount(0);
  await expect(row(teo, 'Guildroad')).toContainText('six countries, and all…');
  await teo.getByRole('button', { name: 'Undo' }).click();
  await expect(tooLong).toBeVisible();
  await tooLong.getByRole('button', { name: /^Shorten/ }).click();

  // What has to be written leads to its field.
  await finding(teo, /Porchway asks for a disclosure/)
    .getByRole('button', { name: /^Edit/ })
    .click();
  const disclosure = teo.getByRole('textbox', { name: 'Disclosure' });
  await expect(disclosure).toBeFocused();
  await disclosure.fill('Paid for by the oat board');
  await disclosure.blur();
  await expect(finding(teo, /disclosure/)).toHaveCount(0);
  await finding(teo, /Captions at Kitefield/)
    .getByRole('button', { name: /^Back to the house/ })
    .click();
  await expect(finding(teo, /Captions/)).toHaveCount(0);

  await teo.getByRole('button', { name: 'Book all' }).click();
  await expect(teo.getByText('Done at 3 destinations.')).toBeVisible();
  for (const place of ['Kitefield', 'Porchway', 'Guildroad'])
    await expect(row(teo, place)).toContainText('Booked');
  await expect(row(teo, 'Emberplay')).toContainText('cannot be booked');
  expect((await kitefield.events()).at(-1)).toMatchObject({
    title: 'Starters that cross borders',
    settings: { audience: 'general', captions: 'automatic', latency: 'short' },
  });
  expect((await porchway.events()).at(-1)).toMatchObject({
    headline: 'Starters that cross borders',
    settings: { sponsored: true, disclosure: 'Paid for by the oat board' },
  });
  const [ahead] = (await guildroad.events()).slice(-1);
  expect(ahead!['subject']).toBe('Starters that cross borders: one jar of rye, six countries, and all…');

  // Once more changes what is there, and makes nothing twice.
  const counted = (await kitefield.events()).length;
  await teo.getByRole('button', { name: 'Send all again' }).click();
  await expect(teo.getByText('Done at 3 destinations.')).toBeVisible();
  expect((await kitefield.events()).length).toBe(counted);
  expect(await violations(teo)).toEqual([]);

  // The launch sheet knows what is done, and who ticked the rest.
  await teo.getByRole('link', { name: 'Launch sheet' }).click();
  await expect(teo.getByRole('row', { name: /Book at Kitefield/ })).toContainText('✓');
  const gear = teo.getByRole('checkbox', { name: /Check camera, sound and line/ });
  await gear.check();
  await expect(teo.getByRole('row', { name: /Check camera/ })).toContainText('Teo Marchetti-Lunn');
  await gear.uncheck();
});

test('a place that changed its rules is quoted, and the others are booked all the same', async ({ as }) => {
  const teo = await as('Teo');
  await guildroad.setRules({ title: 30 });
  try {
    await teo.goto(`${SHOW(2)}/listings`);
    await teo.getByRole('button', { name: 'Book all' }).click();
    await expect(teo.getByText(/Done at 2 of 3 destinations/)).toBeVisible();
    await expect(row(teo, 'Guildroad')).toContainText('Guildroad, the school’s page said no');
    await expect(row(teo, 'Guildroad')).toContainText('subject: at most 30');
    await expect(row(teo, 'Kitefield')).toContainText('Booked');

    // Our rule was contradicted: that is said, with the shows it touches, and taken over by one press.
    await teo.goto('/destinations');
    await expect(teo.getByText('1 refused what our rules allow')).toBeVisible();
    await teo.getByRole('link', { name: 'House rules and defaults' }).click();
    const alarm = teo.getByRole('alert').filter({ hasText: 'Guildroad refused a listing' });
    await expect(alarm).toContainText('its longest title is 30, and we have 72.');
    await expect(alarm).toContainText('Cold dough, warm shop');
    await alarm.getByRole('button', { name: 'Take over 30' }).click();
    await expect(alarm).toHaveCount(0);
    await expect(teo.getByText(/longest title from 72 to 30, by Teo/).first()).toBeVisible();
    await teo.goto(`${SHOW(2)}/listings`);
    await expect(finding(teo, /title is 19 too long for Guildroad/)).toBeVisible();
  } finally {
    await guildroad.setRules({ title: 72 });
  }
  // The place went back to what it had, and so do we.
  await teo.goto('/rules');
  // Before a figure is kept, it is told what it would hold up, with the way there.
  await teo.getByRole('button', { name: '96: correct longest title of Kitefield' }).click();
  await teo.getByLabel('Corrected figure').fill('20');
  await expect(teo.getByText(/^At 20, .* planned shows? more (is|are) held up/)).toBeVisible();
  await expect(teo.getByRole('link', { name: /Starters that cross borders/ })).toBeVisible();
  await teo.getByRole('button', { name: 'Leave it' }).click();
  await teo.getByRole('button', { name: '30: correct longest title of Guildroad' }).click();
  await teo.getByLabel('Corrected figure').fill('72');
  await teo.getByLabel('Where it is from').fill('its letter to all makers');
  await teo.getByRole('button', { name: 'Correct', exact: true }).click();
  await expect(teo.getByText(/longest title from 30 to 72/).first()).toBeVisible();
  await teo.goto(`${SHOW(2)}/listings`);
  await teo.getByRole('button', { name: 'Book all' }).click();
  await expect(row(teo, 'Guildroad')).toContainText('Booked');
});

test('an event that nobody came to lapses, and is made anew in one step', async ({ as, request }) => {
  const { clock } = addresses();
  const teo = await as('Teo');
  await teo.goto(`${SHOW(2)}/listings`);
  await teo.getByRole('button', { name: /^(Book all|Send all again)$/ }).click();
  await expect(row(teo, 'Guildroad')).toContainText('Booked');
  const slot = (await guildroad.events()).at(-1)!['slot'] as string;
  try {
    const aheadMs = Date.parse(slot) - Date.now() + 14 * 60_000;
    await request.put(`${clock}/clock`, { data: { aheadMs } });
    // Nobody asks: the house looks by itself when the time has come.
    await expect(row(teo, 'Guildroad')).toContainText('Lapsed');
    await expect(finding(teo, /Guildroad threw the event away/)).toBeVisible();
    await finding(teo, /Guildroad threw the event away/)
      .getByRole('button', { name: /^Make it at once/ })
      .click();
    await expect(row(teo, 'Guildroad')).toContainText('Booked');
    expect((await guildroad.events()).at(-1)).toMatchObject({ slot: null, state: 'booked' });
  } finally {
    await request.put(`${clock}/clock`, { data: { real: true } });
  }
});

test('an account is connected on its place’s own page, and its placements become destinations', async ({
  as,
}) => {
  const teo = await as('Teo');
  await teo.goto('/destinations');
  await teo.getByRole('button', { name: 'Connect at Kitefield' }).click();
  await expect(teo.getByRole('heading', { name: 'Let an application in' })).toBeVisible();
  await teo.getByRole('button', { name: 'No' }).click();
  await expect(teo.getByText('The owner said no. Nothing was connected.')).toBeVisible();

  await teo.getByRole('button', { name: 'Connect at Kitefield' }).click();
  await teo.getByLabel('Millrace for trade bakers').check();
  await teo.getByRole('button', { name: 'Let it in' }).click();
  await teo.getByRole('button', { name: 'Add For trade bakers as a destination' }).click();
  await expect(teo.getByText('is a destination')).toBeVisible();
  const added = teo.getByRole('row', { name: /Kitefield, For trade bakers/ });
  await expect(added).toBeVisible();

  // A circle has to let us in first, and how is said.
  await teo.getByRole('button', { name: /Placements of Porchway/ }).click();
  await expect(teo.getByText(/The circle has not let this application in/)).toBeVisible();
  await porchway.setAccount({ circleAdmits: true });
  try {
    await teo.getByRole('button', { name: /Placements of Porchway/ }).click();
    await teo.getByRole('button', { name: /Placements of Porchway/ }).click();
    await expect(
      teo.getByRole('button', { name: 'Add Sourdough neighbours as a destination' }),
    ).toBeVisible();
  } finally {
    await porchway.setAccount({ circleAdmits: false });
  }

  // Whatever is still to come is named before an account is forgotten.
  await teo.getByRole('button', { name: /Disconnect Porchway/ }).click();
  await teo.getByRole('button', { name: 'Disconnect now' }).click();
  await expect(teo.getByText(/Shows that are still to come go there/)).toContainText('Cold dough');
  await teo.getByRole('button', { name: 'Keep it' }).click();
  const trade = teo.getByRole('button', { name: /Disconnect Kitefield, For trade bakers/ });
  await trade.click();
  await teo.getByRole('button', { name: 'Disconnect now' }).click();
  await expect(added).toHaveCount(0);
});

test('an account that was taken back blocks, and is connected again with all that hangs on it', async ({
  as,
}) => {
  const teo = await as('Teo');
  await teo.goto(`${SHOW(2)}/listings`);
  await expect(row(teo, 'Porchway')).toBeVisible();
  await porchway.revokeTokens();
  await teo.getByRole('button', { name: 'Edit the listing at Porchway' }).click();
  await teo.getByRole('button', { name: /Book Porchway|Send changes to Porchway/ }).click();
  await expect(row(teo, 'Porchway')).toContainText('no longer accepts our authorisation');
  await teo.reload();
  await expect(finding(teo, /Porchway no longer lets us in/)).toBeVisible();

  await teo.goto('/destinations');
  await teo.getByRole('button', { name: /Connect Porchway.* again/ }).click();
  await teo.getByRole('button', { name: 'Let it in' }).click();
  await expect(teo.getByText('no longer lets us in')).toHaveCount(0);
  await teo.goto(`${SHOW(2)}/listings`);
  // The list is there once the rows are.
  await expect(row(teo, 'Porchway')).toBeVisible();
  await expect(finding(teo, /Porchway no longer lets us in/)).toHaveCount(0);
  await teo.getByRole('button', { name: 'Edit the listing at Porchway' }).click();
  await teo.getByRole('button', { name: /Book Porchway|Send changes to Porchway/ }).click();
  await expect(row(teo, 'Porchway')).toContainText('Booked');
});

test('the next show is made from this one, with everything but what was booked', async ({ as }) => {
  const teo = await as('Teo');
  await teo.goto(SHOW(2));
  const day = teo.getByLabel('Day', { exact: true });
  await expect(day).not.toHaveValue('');
  const oldDay = await day.inputValue();
  await teo.getByRole('button', { name: 'Make the next' }).click();
  await expect(teo.getByText('Nothing is booked.')).toBeVisible();
  await expect(teo.getByText('Guests need new personal links.')).toBeVisible();
  await expect(teo).not.toHaveURL(new RegExp(SHOW(2)));
  await expect(teo.getByLabel('Title', { exact: true })).toHaveValue(/Cold dough, warm shop/);
  for (const place of ['Emberplay', 'Guildroad', 'Kitefield', 'Porchway'])
    await expect(teo.getByRole('checkbox', { name: new RegExp(place) })).toBeChecked();
  // The form is the new show's: its day is another, and stays so with the first change.
  await expect(day).not.toHaveValue(oldDay);
  const newDay = await day.inputValue();
  await teo.getByLabel('Description').fill('The same dough, a week older.');
  await teo.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(teo.getByText('Saved', { exact: false }).first()).toBeVisible();
  await teo.reload();
  await expect(day).toHaveValue(newDay);
  await expect(teo.getByText(/is also in “.*Cold dough/)).toHaveCount(0);
  await teo.getByRole('link', { name: 'Listings', exact: true }).click();
  await expect(row(teo, 'Guildroad')).toContainText('Draft');
  // Ten days ahead, one place takes no bookings yet: it is booked by itself when it does.
  await expect(finding(teo, /Kitefield takes bookings for this slot from/)).toBeVisible();
  await finding(teo, /Kitefield takes bookings for this slot from/)
    .getByRole('button', { name: /^Book/ })
    .click();
  await expect(finding(teo, /Booked at Kitefield by itself at/)).toBeVisible();
  await teo.getByRole('link', { name: 'Launch sheet' }).click();
  await expect(teo.getByRole('row', { name: /Book at Kitefield/ })).toContainText('the machine');
  // Out of the other tests' way.
  await teo.getByRole('link', { name: /Cold dough/ }).click();
  await teo.getByRole('button', { name: 'Put away' }).click();
  await expect(teo.getByRole('button', { name: 'Bring back' })).toBeVisible();
});

test('a line is tried before the show, and nothing of it is left at the place', async ({ as }) => {
  const teo = await as('Teo');
  await teo.goto('/destinations');
  await teo.getByRole('button', { name: /^Kitefield/ }).click();
  const line = teo.getByRole('region', { name: /^The line to Kitefield/ });
  await line.getByRole('button', { name: 'Try the line' }).click();
  await expect(line.getByText(/took the whole test, at \d{4} kbit\/s/)).toBeVisible({ timeout: 30_000 });
  await expect(teo.getByRole('row', { name: /Kitefield/ })).toContainText('Tried, good');
  const titles = (await kitefield.events()).map((event) => event['title']);
  expect(titles).not.toContain('Line test');

  // Where it would be seen it is not offered; the way to each region is measured instead.
  await teo.getByRole('button', { name: /^Emberplay/ }).click();
  const ember = teo.getByRole('region', { name: /^The line to Emberplay/ });
  await expect(ember.getByText(/cannot be tried beforehand/)).toBeVisible();
  await ember.getByRole('button', { name: 'Measure the way to each' }).click();
  await expect(ember.getByText('(north)')).toBeVisible();
  await ember.getByRole('radio', { name: /south/ }).check();
  await teo.reload();
  await teo.getByRole('button', { name: /^Emberplay/ }).click();
  await expect(ember.getByText('south', { exact: true })).toBeVisible();
  await ember.getByRole('button', { name: 'Measure the way to each' }).click();
  await ember.getByRole('radio', { name: /the nearest/ }).check();
  expect(await violations(teo)).toEqual([]);
});

test('where a show goes is kept as a route, and given to another in one step', async ({ as }) => {
  const teo = await as('Teo');
  const name = newTitle('Trade webinars');
  await teo.goto(SHOW(2));
  await teo.getByRole('button', { name: 'Save as a route' }).click();
  await teo.getByLabel('Name of the route').fill(name);
  await teo.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(teo.getByText(`Kept as ${name}.`)).toBeVisible();
  await makeShow(teo, newTitle('Another webinar'));
  await teo.getByLabel('Route', { exact: true }).selectOption(`${name} (4)`);
  await teo.getByRole('button', { name: 'Send the show there' }).click();
  for (const place of ['Emberplay', 'Guildroad', 'Kitefield', 'Porchway'])
    await expect(teo.getByRole('checkbox', { name: new RegExp(place) })).toBeChecked();
  await teo.getByRole('button', { name: `Forget the route ${name}` }).click();
  await teo.getByRole('button', { name: 'Forget now' }).click();
  await expect(teo.getByRole('option', { name: `${name} (4)` })).toHaveCount(0);
});

test('what the house wants is laid down once, and every listing inherits it', async ({ as }) => {
  const teo = await as('Teo');
  await teo.goto('/rules');
  const defaults = teo.getByRole('region', { name: 'House defaults' });
  await defaults.getByLabel('Chat replay').selectOption('off');
  await expect(defaults.getByText('Saved.')).toBeVisible();
  await teo.goto(`${SHOW(3)}/listings`);
  await teo.getByRole('button', { name: 'Edit the listing at Guildroad' }).click();
  await teo.getByText(/^Settings there/).click();
  await expect(teo.getByLabel('Chat replay')).toContainText('off (house default)');
  await teo.goto('/rules');
  await defaults.getByLabel('Chat replay').selectOption('on');
  await expect(defaults.getByText('Saved.')).toBeVisible();
  await defaults.getByLabel('At the desk, min before the start').fill('30');
  await defaults.getByLabel('At the desk, min before the start').blur();
  await expect(defaults.getByText('Saved.')).toBeVisible();
  await teo.goto(`${SHOW(3)}/launch`);
  await expect(teo.getByRole('row', { name: /Be at the desk/ })).toContainText('18:30');
  await teo.goto('/rules');
  await defaults.getByLabel('At the desk, min before the start').fill('40');
  await defaults.getByLabel('At the desk, min before the start').blur();
  await expect(defaults.getByText('Saved.')).toBeVisible();
});

test('a moderator reads listings and launch sheet, and changes no listing', async ({ as }) => {
  const ingrid = await as('Ingrid');
  await ingrid.goto(`${SHOW(2)}/listings`);
  await expect(row(ingrid, 'Kitefield')).toBeVisible();
  await expect(ingrid.getByRole('button', { name: /^(Book all|Send all again)$/ })).toHaveCount(0);
  await expect(ingrid.getByLabel('Title there')).toHaveAttribute('readonly', '');
});
