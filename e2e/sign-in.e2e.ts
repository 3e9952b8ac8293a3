import { expect, ROLE_OF, test, type Seat } from './support/house';

for (const seat of Object.keys(ROLE_OF) as Seat[]) {
  test(`${seat} signs in with one click and sees the team’s shows`, async ({ as }) => {
    const page = await as(seat);
    await expect(page).toHaveTitle('Shows – Juncta');
    await expect(page.getByRole('button', { name: new RegExp(`${seat}.*${ROLE_OF[seat]}`) })).toBeVisible();
    await expect(page.getByRole('row', { name: /A miller’s first hour.*Ready to air/ })).toBeVisible();
  });
}

test('signing out ends it, and the way back leads to where one was', async ({ as }) => {
  const page = await as('Odalys');
  await page.getByRole('button', { name: /Odalys.*host/ }).click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(page.getByRole('heading', { name: 'Who are you tonight?' })).toBeVisible();
  await page.goto('/season');
  await expect(page).toHaveURL(/sign-in\?to=%2Fseason/);
  await page.getByRole('button', { name: /Odalys/ }).click();
  await expect(page.getByRole('heading', { name: 'Season' })).toBeVisible();
});

test('a way back to another site is not taken', async ({ page }) => {
  for (const to of ['//elsewhere.example', 'https://elsewhere.example']) {
    await page.context().clearCookies();
    await page.goto(`/sign-in?to=${encodeURIComponent(to)}`);
    await page.getByRole('button', { name: /Ingrid/ }).click();
    await expect(page.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
    expect(new URL(page.url()).pathname).toBe('/shows');
  }
});

test('a moderator reads plans and cannot change them, by the page or around it', async ({ as }) => {
  const page = await as('Ingrid');
  await expect(page.getByRole('link', { name: 'New show' })).toHaveCount(0);
  await page.goto('/shows/new');
  await expect(page).toHaveURL(/\/shows$/);
  await page.getByRole('link', { name: 'Open the plan' }).click();
  await expect(page.getByText('As moderator you can read this plan')).toBeVisible();
  await expect(page.getByLabel('Title', { exact: true })).toBeDisabled();
  await expect(page.getByRole('button', { name: /^Save(?! as)/ })).toHaveCount(0);
  const refused = await page.evaluate(async () => {
    const csrf = /juncta_csrf=([^;]+)/.exec(document.cookie)![1]!;
    const response = await fetch('/api/series', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'X-Juncta-Csrf': csrf },
      body: JSON.stringify({ id: crypto.randomUUID(), name: 'Mine' }),
    });
    return { status: response.status, body: (await response.json()) as { sentence: string } };
  });
  expect(refused.status).toBe(403);
  expect(refused.body.sentence).toBe('As moderator you cannot do this. Ask a producer or a host.');
});

test('somebody invited joins with a password, and is out the moment they are removed', async ({
  as,
  browser,
}) => {
  const producer = await as('Teo');
  await producer.getByRole('link', { name: 'Team' }).click();
  await producer.getByLabel('As', { exact: true }).selectOption('host');
  await producer.getByRole('button', { name: 'Make a link' }).click();
  const link = await producer.getByLabel('Link for a host').inputValue();

  const newcomer = await (await browser.newContext()).newPage();
  await newcomer.goto(link);
  await expect(newcomer.getByText('You were invited as host')).toBeVisible();
  expect(newcomer.url()).not.toContain('#');
  await newcomer.getByLabel('Your name').fill('Nils Aberdour');
  await newcomer.getByLabel('E-mail address').fill('nils@millrace.example');
  await newcomer.getByLabel('Password').fill('short');
  await newcomer.getByRole('button', { name: 'Join' }).click();
  await expect(newcomer.getByText('Password is too short: at least 10 characters.')).toBeVisible();
  await newcomer.getByLabel('Password').fill('warm oven, cold hands');
  await newcomer.getByRole('button', { name: 'Join' }).click();
  await expect(newcomer.getByRole('button', { name: /Nils Aberdour.*host/ })).toBeVisible();

  await newcomer.goto('/shows/new');
  await newcomer.getByLabel('Title', { exact: true }).fill('Half written');
  await producer.reload();
  const remove = producer.getByRole('button', { name: 'Remove Nils Aberdour' });
  await remove.click();
  await producer.getByRole('button', { name: 'Press again to remove' }).click();
  await expect(producer.getByRole('row', { name: /Nils/ })).toHaveCount(0);
  await expect(newcomer.getByText('Your session has ended')).toBeVisible();

  await newcomer.goto(link);
  await expect(newcomer.getByRole('alert')).toContainText('has been used');
  await newcomer.context().close();
});
