import { LAUNCH_WITH_CAMERA } from './support/browser';
import { composeHost, READY_SHOW } from './support/desk';
import { expect, test } from './support/house';

test.use({ launchOptions: LAUNCH_WITH_CAMERA });

test('a composing desk is left by loading another page, and its tab lives on and comes back', async ({
  as,
}) => {
  const teo = await as('Teo');
  let crashed = false;
  teo.on('crash', () => (crashed = true));
  await composeHost(teo);
  await teo.getByRole('button', { name: 'Camera for Teo Marchetti-Lunn' }).click();
  await expect(teo.getByText('Producer, camera')).toBeVisible();
  for (let round = 0; round < 3; round++) {
    await teo.goto('/shows');
    await expect(teo.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
    // Composed here until a moment ago: it comes back with its pictures.
    await teo.goto(READY_SHOW);
    await expect(teo.getByText('The relay has the programme.')).toBeVisible();
    await expect(teo.getByText('Host, test pattern')).toBeVisible();
    await expect(teo.getByText('Producer, camera')).toBeVisible();
  }
  expect(crashed).toBe(false);
});
