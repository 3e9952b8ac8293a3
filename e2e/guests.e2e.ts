import { expect, makeShow, newTitle, save, test } from './support/house';

test('a guest opens a personal link and learns what there is to know; revoked, it lets nobody in', async ({
  as,
  browser,
}) => {
  const teo = await as('Teo');
  const title = newTitle('Guests welcome');
  await makeShow(teo, title);
  await teo.getByLabel('Day').fill('2027-05-20');
  await teo.getByLabel('Time', { exact: true }).fill('19:00');
  await teo.getByLabel('Time zone').fill('America/St_Johns');
  await teo.getByRole('button', { name: 'Add a guest' }).click();
  await teo.getByLabel('Name of person 2').fill('Mei-Lin Okafor');
  await save(teo);
  await teo.getByRole('button', { name: 'Make a link for Mei-Lin Okafor' }).click();
  const link = await teo.getByLabel('Link of Mei-Lin Okafor', { exact: true }).inputValue();
  await expect(teo.getByText('not used yet')).toBeVisible();
  // Another guest's link takes nothing out of sight, and a page that was left shows the same link again.
  await teo.getByRole('button', { name: 'Add a guest' }).click();
  await teo.getByLabel('Name of person 3').fill('Wanjiru Halloran');
  await save(teo);
  await teo.getByRole('button', { name: 'Make a link for Wanjiru Halloran' }).click();
  await expect(teo.getByLabel('Link of Wanjiru Halloran', { exact: true })).toBeVisible();
  await expect(teo.getByLabel('Link of Mei-Lin Okafor', { exact: true })).toHaveValue(link);
  await teo.getByRole('button', { name: 'Copy all 2 invitations' }).click();
  const copied = await teo.evaluate(() => navigator.clipboard.readText());
  expect(copied).toContain(`Hello Mei-Lin Okafor, you are a guest in “${title}”`);
  expect(copied).toContain(link);
  await teo.reload();
  await teo.getByRole('button', { name: 'Show the link of Mei-Lin Okafor' }).click();
  await expect(teo.getByLabel('Link of Mei-Lin Okafor', { exact: true })).toHaveValue(link);

  const context = await browser.newContext({ viewport: { width: 390, height: 800 }, isMobile: true });
  const guest = await context.newPage();
  await guest.goto(link);
  await expect(guest.getByRole('heading', { name: title })).toBeVisible();
  expect(guest.url()).toMatch(/\/guest$/);
  await expect(guest.getByText('Hello Mei-Lin Okafor')).toBeVisible();
  await expect(guest.getByText('You are not on air')).toBeVisible();
  await expect(guest.getByText('22:30', { exact: true })).toBeVisible();
  await expect(guest.getByText('19:00 in St Johns')).toBeVisible();
  await guest.reload();
  await expect(guest.getByRole('heading', { name: title })).toBeVisible();
  await guest.goto('/shows');
  await expect(guest).toHaveURL(/sign-in/);

  await teo.getByRole('button', { name: 'Revoke the link of Mei-Lin Okafor' }).click();
  await teo.getByRole('button', { name: 'Press again to revoke' }).click();
  await expect(teo.getByText('no link yet')).toBeVisible();
  await guest.goto(link);
  await expect(guest.getByRole('alert')).toContainText('This link does not work any more');
  await context.close();
});

test('a link that was cut short says so', async ({ page }) => {
  for (const address of ['/guest', '/guest#abc']) {
    await page.goto(address);
    await expect(page.getByRole('alert')).toContainText('Open the link you were sent once more, whole');
  }
});
