import { addresses, expect, makeShow, newTitle, pidOf, save, test } from './support/house';

test('the server dies: it is said, it is brought back, and everything goes on', async ({ as }) => {
  const [teo, ingrid] = [await as('Teo'), await as('Ingrid')];
  process.kill(pidOf('server'), 'SIGKILL');
  await expect(teo.getByText('The connection is lost')).toBeVisible();
  await expect(teo.getByText('The connection is lost')).toBeHidden({ timeout: 60_000 });
  await expect(ingrid.getByText('The connection is lost')).toBeHidden({ timeout: 60_000 });
  const title = newTitle('After the server');
  await makeShow(teo, title);
  await expect(ingrid.getByRole('row', { name: new RegExp(title) })).toBeVisible();
});

test('the database dies under a save: nothing is lost, and the next try succeeds', async ({ as }) => {
  const teo = await as('Teo');
  const title = newTitle('Under the database');
  await makeShow(teo, title);
  await teo.getByLabel('Description').fill('Written while it was away.');
  process.kill(pidOf('database'), 'SIGKILL');
  await save(teo);
  const refused = teo.getByText('The database does not answer just now');
  const saved = teo.getByText('Saved', { exact: true });
  await expect(refused.or(saved)).toBeVisible({ timeout: 60_000 });
  await expect(teo.getByLabel('Description')).toHaveValue('Written while it was away.');
  await expect(async () => {
    if (await refused.isVisible()) await save(teo);
    await expect(saved).toBeVisible({ timeout: 2000 });
  }).toPass({ timeout: 30_000 });
  await teo.reload();
  await expect(teo.getByLabel('Description')).toHaveValue('Written while it was away.');
});

test('every process says what is up', async ({ request }) => {
  const { server, relay, clock, emberplay } = addresses();
  for (const url of [server, relay, clock, emberplay]) {
    const health = await request.get(`${url}/healthz`);
    expect(health.status()).toBe(200);
    expect(((await health.json()) as { up: boolean }).up).toBe(true);
  }
});

test('the rehearsal clock moves the whole house, and the page says that it is one', async ({
  as,
  request,
}) => {
  const { clock } = addresses();
  const teo = await as('Teo');
  try {
    const row = teo.getByRole('row', { name: /A miller’s first hour/ });
    await expect(row).toContainText('Ready to air');
    await request.put(`${clock}/clock`, { data: { aheadMs: 3 * 3_600_000 } });
    await teo.reload();
    await expect(teo.getByText('Rehearsal clock, set by hand')).toBeVisible();
    await expect(row).toContainText('Overdue');
    await request.put(`${clock}/clock`, { data: { rate: 60 } });
    await teo.reload();
    await expect(teo.getByText('Rehearsal clock, 60 times as fast')).toBeVisible();
  } finally {
    await request.put(`${clock}/clock`, { data: { real: true } });
  }
});
