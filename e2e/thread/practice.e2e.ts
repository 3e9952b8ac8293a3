import type { Page } from '@playwright/test';
import { violations } from '../support/axe';
import { messages, pressTwice, READY_SHOW, READY_SHOW_ID } from '../support/desk';
import { expect, test } from '../support/house';

test('moderators practise on the messages of another evening, and nothing of it is left', async ({ as }) => {
  const run = Math.random().toString(36).slice(2, 8);
  const lines = [
    { text: 'Good evening from the coast', author: 'Ilse' },
    { text: 'What a waste of flour', author: 'Grumbler', standing: 'hidden' },
    { text: 'How warm may the flour be', author: 'Fenna', question: 'answered' },
    { text: 'Your oven is off', author: 'Beatrix' },
    { text: 'We are glad that you are here', author: 'The house', owner: true },
  ].map((line, i) =>
    JSON.stringify({
      ...line,
      text: `${line.text} ${run}`,
      writtenAtMs: i * 1000,
      destination: 'A place of old',
    }),
  );
  const file = {
    name: 'evening.jsonl',
    mimeType: 'application/jsonl',
    buffer: Buffer.from(lines.join('\n')),
  };
  const row = (page: Page, start: string) =>
    messages(page)
      .getByRole('listitem')
      .filter({ hasText: `${start} ${run}` });
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  await ingrid.getByRole('button', { name: 'Practise' }).click();
  const dialog = ingrid.getByRole('dialog', { name: 'Practise with the messages of another evening' });
  await expect(dialog.getByRole('button', { name: 'Begin' })).toBeDisabled();
  await dialog.getByLabel('Or a file of messages').setInputFiles(file);
  await expect(dialog.getByRole('status')).toContainText('4 messages. What the house wrote (1) is left out');
  await expect(dialog.getByRole('status')).toContainText('does not go to A place of old');
  await dialog.getByRole('radio', { name: /8 times/ }).check();
  expect(await violations(ingrid)).toEqual([]);
  await dialog.getByRole('button', { name: 'Begin' }).click();

  // The others see that it is one.
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  for (const page of [ingrid, odalys]) {
    await expect(page.getByText('All 4 messages have come, begun by Ingrid', { exact: false })).toBeVisible();
    await expect(row(page, 'Your oven is off')).toContainText('practice');
    await expect(row(page, 'We are glad that you are here')).toHaveCount(0);
  }
  expect(await violations(ingrid)).toEqual([]);

  await row(ingrid, 'What a waste of flour').getByRole('button').first().click();
  await pressTwice(ingrid, 'Hide', 'Hide it there too');
  await expect(ingrid.getByText('Practised: done here.', { exact: false })).toBeVisible();
  await row(ingrid, 'How warm may the flour be').getByRole('button').first().click();
  await ingrid.keyboard.press('q');
  await expect(odalys.getByRole('region', { name: 'Next question' })).toContainText(
    'How warm may the flour be',
  );
  await row(ingrid, 'Your oven is off').getByRole('button').first().click();
  await ingrid.keyboard.press('a');
  await ingrid.getByLabel(/Answer to Beatrix/).fill(`It is warm enough ${run}`);
  await ingrid.getByRole('button', { name: 'Write', exact: true }).click();
  await expect(row(odalys, 'It is warm enough')).toContainText('practice');

  await pressTwice(ingrid, 'End the practice', 'End it for all, and clear');
  await expect(ingrid.getByText('Of 1 that were set aside or hidden', { exact: false })).toContainText(
    '1 were so now, and 0 more. Of 1 questions, 1 became one again, and 0 more.',
  );
  for (const page of [ingrid, odalys]) {
    await expect(messages(page).getByText(run)).toHaveCount(0);
    await expect(page.getByText('have come, begun by')).toHaveCount(0);
  }
});
