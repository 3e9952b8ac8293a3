import { violations } from '../support/axe';
import { composeHost, endReadyShow, messages, READY_SHOW_ID, startOnAir } from '../support/desk';
import { expect, test } from '../support/house';
import { emberplay } from '../support/place';

const EMBERPLAY = 'Emberplay, the school’s channel';
const FINISHED_SHOW_ID = 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f07';

test.afterEach(async ({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

test('texts are kept ready and filled in, one is written by itself, messages are found, and two moderators see each other', async ({
  as,
}) => {
  // Forty steps at two pages, one of which composes: on a slow machine they take more than two minutes.
  test.slow();
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  await ingrid.getByRole('button', { name: 'Texts' }).click();
  const dialog = ingrid.getByRole('dialog', { name: 'Texts' });
  await dialog.getByRole('button', { name: 'Add a text' }).click();
  const ready = dialog.getByLabel(/^Text \d+$/).last();
  await ready.fill('Ask {guests} whatever you like about {titel}');
  await expect(dialog.getByText('{titel} stands for nothing.')).toBeVisible();
  await ready.fill('Ask {guests} whatever you like');
  await dialog.getByRole('button', { name: 'Add one that is written by itself' }).click();
  await dialog.getByLabel('Timed text 1', { exact: true }).fill('You are watching {title}');
  await dialog.getByLabel('From when timed text 1 counts').selectOption({ label: 'minutes into the show' });
  await dialog.getByLabel('Minutes of timed text 1').fill('0');
  await dialog.getByLabel('Minutes of timed text 1').blur();
  await expect(dialog.getByText(/You are watching A miller/)).toBeVisible();
  expect(await violations(ingrid)).toEqual([]);
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByText('Saved.')).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();

  const teo = await as('Teo');
  await composeHost(teo);
  await startOnAir(teo, `Start the feed to ${EMBERPLAY}`, 'Start now');
  const all = messages(ingrid);
  await expect(
    all.getByRole('listitem').filter({ hasText: 'You are watching A miller’s first hour' }),
  ).toHaveCount(1);
  expect((await emberplay.chat()).filter(({ text }) => text.startsWith('You are watching')).length).toBe(1);

  // The text kept ready goes into the field, filled in, and out.
  await ingrid.getByRole('button', { name: 'Texts' }).click();
  await expect(dialog.getByText('Written.')).toBeVisible();
  await dialog
    .getByRole('button', { name: /^Use text/ })
    .last()
    .click();
  await expect(ingrid.getByLabel('To viewers everywhere')).toHaveValue(
    /^Ask .*Trethewey.* whatever you like$/,
  );
  await ingrid.getByRole('button', { name: 'Write', exact: true }).click();
  await ingrid.getByRole('button', { name: /^To everybody at/ }).click();
  await expect(all.getByRole('listitem').filter({ hasText: 'whatever you like' })).toBeVisible();

  // Found among all, by words and by kind.
  await emberplay.say('Ilse', 'How fine is the sieve that you use?');
  await expect(all.getByRole('listitem').filter({ hasText: 'fine is the sieve' })).toBeVisible();
  await ingrid.getByRole('button', { name: 'Find', exact: true }).click();
  const search = ingrid.getByRole('search', { name: 'Find messages' });
  await search.getByLabel('Words or a writer').fill('SIEVE');
  await expect(search.getByText('1 match')).toBeVisible();
  await expect(all.getByRole('listitem')).toHaveCount(1);
  expect(await violations(ingrid)).toEqual([]);
  await search.getByLabel('Words or a writer').fill('');
  await search.getByLabel('What').selectOption({ label: 'by the house' });
  await expect(all.getByRole('listitem').filter({ hasText: 'whatever you like' })).toBeVisible();
  await expect(all.getByRole('listitem').filter({ hasNotText: 'the house' })).toHaveCount(0);
  await search.getByRole('button', { name: 'Close' }).click();

  // Whoever stays at a message is seen there by the others.
  const sieve = (list: ReturnType<typeof messages>) =>
    list.getByRole('listitem').filter({ hasText: 'fine is the sieve' });
  await sieve(all).getByRole('button').first().click();
  await expect(sieve(messages(teo))).toContainText('Ingrid Sauvage is at it');
  await ingrid.keyboard.press('q');
  await expect(sieve(messages(teo))).not.toContainText('is at it');
  // What is lined up stands large at the desk, one at a time.
  const next = teo.getByRole('region', { name: 'Next question' });
  await expect(next).toContainText('How fine is the sieve that you use?');
  expect(await violations(teo)).toEqual([]);
  await next.getByRole('button', { name: 'On programme' }).click();
  await expect(teo.getByRole('status').filter({ hasText: 'On the programme' })).toContainText('Ilse');
  await next.getByRole('button', { name: 'Answered' }).click();
  await expect(next).toContainText('Questions that are lined up come here');
});

test('what a finished show leaves has its messages over time, and rules are tried on a file of them', async ({
  as,
}) => {
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/shows/${FINISHED_SHOW_ID}`);
  await expect(ingrid.getByRole('heading', { name: 'Messages over the show' })).toBeVisible();
  await expect(ingrid.getByRole('img', { name: /Messages by the minute of the show/ })).toBeVisible();
  await expect(ingrid.getByText(/\d+ messages by \d+ viewers/)).toBeVisible();
  expect(await violations(ingrid)).toEqual([]);

  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  await ingrid.getByRole('button', { name: 'Rules' }).click();
  const line = (author: string, text: string, writtenAtMs: number) =>
    JSON.stringify({ author, text, writtenAtMs, destination: 'Harbour' });
  const copied = 'come over to the real channel and leave this boring baking show';
  const lines = [
    line('Ilse', 'How warm is the water?', 1000),
    line('Bot', 'see https://elsewhere.example', 2000),
    'no json',
    ...Array.from({ length: 12 }, (_, i) => line(`user ${i}`, copied, 3000 + i * 200)),
  ];
  const buffer = Buffer.from(lines.join('\n'));
  await ingrid
    .getByLabel('Try on a file of messages (JSON lines)')
    .setInputFiles({ name: 'chat.jsonl', mimeType: 'application/jsonl', buffer });
  const dialog = ingrid.getByRole('dialog', { name: 'Rules for messages' });
  await expect(dialog.getByText(/They would have caught \d+ of 14/)).toContainText(
    'One flood would have been noticed. One line of the file could not be read.',
  );
  expect(await violations(ingrid)).toEqual([]);
});
