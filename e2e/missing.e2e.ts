import { expect, makeShow, newTitle, test } from './support/house';

const NOWHERE = 'It goes nowhere yet: no destination is chosen.';

test('what is missing is the same on the board, in the plan and on the desk', async ({ as }) => {
  const teo = await as('Teo');
  const title = newTitle('Nowhere to go');
  await makeShow(teo, title);
  await expect(teo.getByText(NOWHERE)).toBeVisible();
  await teo.goto('/shows');
  await teo.getByRole('button', { name: new RegExp(title) }).click();
  const chosen = teo.getByRole('region', { name: 'Chosen show' });
  await expect(chosen.getByText(NOWHERE)).toBeVisible();
  await expect(chosen.getByText('Nothing is missing')).toHaveCount(0);
  await teo.getByRole('link', { name: 'To the desk' }).click();
  await expect(teo.getByRole('region', { name: 'Feeds' }).getByText(NOWHERE)).toBeVisible();
  await teo.keyboard.press('p');
  await teo.getByRole('checkbox', { name: /Emberplay/ }).check();
  await expect(teo.getByText(NOWHERE)).toBeHidden();
  await teo.goto('/shows');
  await teo.getByRole('button', { name: new RegExp(title) }).click();
  await expect(chosen.getByText(NOWHERE)).toBeHidden();
});
