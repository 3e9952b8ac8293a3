import { violations } from '../support/axe';
import { composeHost, endReadyShow, messages, READY_SHOW_ID, startOnAir } from '../support/desk';
import { addresses, expect, test } from '../support/house';
import { emberplay, kitefield } from '../support/place';

const EMBERPLAY = 'Emberplay, the school’s channel';
const KITEFIELD = 'Kitefield, the school’s channel';

test.afterEach(async ({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

test('a flood at two places is noticed, set aside and taken back in one step each; a writer is banned, and all are slowed', async ({
  as,
}) => {
  test.slow();
  const teo = await as('Teo');
  await composeHost(teo);
  for (const place of [EMBERPLAY, KITEFIELD])
    await startOnAir(teo, `Start the feed to ${place}`, 'Start now');
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  const all = messages(ingrid);
  await emberplay.say('Ilse', 'What a crust that is, thank you for showing it');
  await kitefield.say('Hedvig', 'Can this be done with spelt as well, or only with wheat?');
  for (const text of ['What a crust', 'with spelt as well'])
    await expect(all.getByRole('listitem').filter({ hasText: text })).toBeVisible();

  // Loud is not enough; many who say the same are.
  const flood = { kind: 'copies' as const, per_s: 8, seconds: 4, writers: 30 };
  await Promise.all([emberplay.flood(flood), kitefield.flood(flood)]);
  const notice = ingrid.getByRole('status').filter({ hasText: 'A flood is coming in' });
  await expect(notice).toContainText(/\d+ messages that are much alike, from \d+ writers, at .*Emberplay/);
  await expect(notice).toContainText('come over to the real channel');
  await expect(teo.getByText('A flood is coming in')).toBeVisible();
  expect(await violations(ingrid)).toEqual([]);

  await notice.getByRole('button', { name: 'Set all of it aside' }).click();
  const copies = all.getByRole('listitem').filter({ hasText: 'come over to the real channel' });
  await expect(copies).toHaveCount(0);
  await expect(all.getByRole('listitem').filter({ hasText: 'What a crust' })).toBeVisible();
  // The other of the two sees that it was dealt with.
  await expect(teo.getByText('A flood is set aside')).toBeVisible();
  await expect(messages(teo).getByRole('listitem').filter({ hasText: 'real channel' })).toHaveCount(0);
  // What still comes of it goes the same way.
  await emberplay.say(
    'Latecomer',
    'hey, come over to the real channel, this baking show is a waste of an evening',
  );
  const lists = ingrid.getByRole('group', { name: 'Which messages' });
  await lists.getByRole('button', { name: /Set aside/ }).click();
  await expect(all.getByRole('listitem').filter({ hasText: 'hey, come over' })).toContainText(
    'part of a flood',
  );
  await ingrid.getByRole('button', { name: 'Undo' }).click();
  await expect(all.getByRole('listitem').filter({ hasText: 'hey, come over' })).toHaveCount(0);
  await lists.getByRole('button', { name: 'Messages' }).click();
  await expect(all.getByRole('listitem').filter({ hasText: 'hey, come over' })).toBeVisible();

  // Hidden and banned where it was written.
  const grumble = await kitefield.say('Grumbler', 'Your bread is flat, and so are your jokes');
  const row = all.getByRole('listitem').filter({ hasText: 'Your bread is flat' });
  await row.getByRole('button').first().click();
  await row.getByRole('button', { name: 'Hide' }).click();
  await row.getByRole('button', { name: 'Hide it there too' }).click();
  await expect(ingrid.getByText('Hidden here and there.')).toBeVisible();
  const there = (await kitefield.chat()).find(({ id }) => id === grumble.id);
  expect(there).toEqual(expect.objectContaining({ hidden: true }));
  await ingrid.getByRole('button', { name: 'Undo' }).click();
  await expect(row).toBeVisible();
  await row.getByRole('button', { name: 'Ban', exact: true }).click();
  await row.getByRole('button', { name: 'Ban this writer there' }).click();
  await expect(ingrid.getByText('Banned there, and muted here.')).toBeVisible();
  expect((await kitefield.chatControl()).banned).toEqual(['console-Grumbler']);
  await ingrid.getByRole('button', { name: 'Undo' }).click();
  await expect(ingrid.getByText('No longer banned or muted.')).toBeVisible();
  expect((await kitefield.chatControl()).banned).toEqual([]);

  // Slowed at every place that can, in one step, and said what each says itself.
  await ingrid.getByRole('button', { name: 'Places' }).click();
  const dialog = ingrid.getByRole('dialog', { name: 'Who may write at the places' });
  await expect(dialog.getByLabel('One message every').first()).toHaveValue('0');
  expect(await violations(ingrid)).toEqual([]);
  await dialog.getByRole('button', { name: 'Slow everywhere' }).click();
  await expect(dialog.getByText('Set, and read back from the place.')).toBeVisible();
  await expect.poll(async () => (await emberplay.chatControl()).rules.slow_s).toBe(30);
  await expect.poll(async () => (await kitefield.chatControl()).rules.slow_s).toBe(30);
  const write = (text: string) =>
    fetch(`${addresses().emberplay}/millrace/chat`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Connection: 'close' },
      body: JSON.stringify({ name: 'Hasty', text }),
    });
  expect((await write('one')).status).toBe(201);
  expect((await write('and another')).status).toBe(403);
  await dialog.getByRole('button', { name: 'As often as they like again' }).click();
  await expect.poll(async () => (await emberplay.chatControl()).rules.slow_s).toBe(0);
  await dialog.getByRole('button', { name: 'Close' }).click();
});
