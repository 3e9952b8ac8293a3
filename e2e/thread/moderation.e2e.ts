import type { Page } from '@playwright/test';
import { violations } from '../support/axe';
import { composeHost, endReadyShow, READY_SHOW_ID, startOnAir } from '../support/desk';
import { addresses, expect, test } from '../support/house';
import { emberplay } from '../support/place';

const EMBERPLAY = 'Emberplay, the school’s channel';
const LIST = 'Messages, in the order of writing';

const message = (page: Page, text: string) =>
  page.getByRole('list', { name: LIST }).getByRole('listitem').filter({ hasText: text });
const choose = (page: Page, text: string) => message(page, text).getByRole('button').first().click();
/** What passers-by see at the place. */
const seenThere = async (): Promise<string[]> => {
  const answer = await fetch(`${addresses().emberplay}/millrace/chat`, { headers: { Connection: 'close' } });
  return ((await answer.json()) as { messages: { text: string }[] }).messages.map(({ text }) => text);
};

test.afterEach(async ({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

test('messages are moderated by two: set aside, hidden there, muted, lined up, put on programme and exported', async ({
  as,
}) => {
  test.slow();
  const teo = await as('Teo');
  await composeHost(teo);
  await startOnAir(teo, `Start the feed to ${EMBERPLAY}`, 'Start now');
  await expect(teo.getByText('On air', { exact: true }).last()).toBeVisible();
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  await expect(ingrid.getByRole('heading', { name: 'Viewers’ messages' })).toBeVisible();
  const lists = ingrid.getByRole('group', { name: 'Which messages' });

  // The house's rules: a word is added, tried on what is there, and holds for what comes.
  await emberplay.say('Breadbot', 'Buy fl0urc0in today');
  await expect(message(ingrid, 'Buy fl0urc0in today')).toBeVisible();
  await ingrid.getByRole('button', { name: 'Rules' }).click();
  const rules = ingrid.getByRole('dialog');
  await rules
    .getByRole('textbox', { name: 'These words and phrases, however they are disguised' })
    .fill('flourcoin');
  await rules.getByRole('combobox', { name: /These words and phrases/ }).selectOption('hide');
  await rules.getByRole('button', { name: 'Try on this show’s messages' }).click();
  await expect(rules.getByText(/They would have caught [1-9]/)).toBeVisible();
  expect(await violations(ingrid)).toEqual([]);
  await rules.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(rules.getByText('They hold for what comes from now on.', { exact: false })).toBeVisible();
  await rules.getByRole('button', { name: 'Close' }).click();
  await emberplay.say('Breadbot', 'F L O U R C O I N again');
  await emberplay.say('Ilse', 'our own notes are at https://crumb.example/notes');
  await lists.getByRole('button', { name: /Set aside/ }).click();
  await expect(message(ingrid, 'F L O U R C O I N again')).toContainText('Hidden: a word that is not wanted');
  await expect(message(ingrid, 'crumb.example')).toContainText('Set aside: an address');
  expect(await violations(ingrid)).toEqual([]);
  await choose(ingrid, 'crumb.example');
  await message(ingrid, 'crumb.example').getByRole('button', { name: 'Let through' }).click();
  await lists.getByRole('button', { name: 'Messages' }).click();
  await expect(message(ingrid, 'crumb.example')).toBeVisible();

  // Hidden there is armed first, done at the place, and can be taken back.
  await emberplay.say('Grumbler', 'You are all fools');
  await choose(ingrid, 'You are all fools');
  const row = message(ingrid, 'You are all fools');
  await row.getByRole('button', { name: 'Hide' }).click();
  await row.getByRole('button', { name: 'Hide it there too' }).click();
  await expect(ingrid.getByText('Hidden here and there.')).toBeVisible();
  await expect(row).toHaveCount(0);
  expect(await seenThere()).not.toContain('You are all fools');
  // The other of the two sees that it was taken.
  await expect(message(teo, 'You are all fools')).toHaveCount(0);
  await ingrid.getByRole('button', { name: 'Undo' }).click();
  await expect(row).toBeVisible();
  expect(await seenThere()).toContain('You are all fools');

  // Muted: nothing of this writer, from before or to come. It is still the chosen one.
  await row.getByRole('button', { name: 'Mute', exact: true }).click();
  await row.getByRole('button', { name: 'Mute this writer' }).click();
  await expect(row).toHaveCount(0);
  await emberplay.say('Grumbler', 'And another thing');
  await lists.getByRole('button', { name: /Set aside/ }).click();
  await expect(message(ingrid, 'And another thing')).toContainText('Hidden: Ingrid Sauvage');

  // A question is lined up by its key, and both see it; on the programme it stays as long as reading takes.
  await lists.getByRole('button', { name: 'Messages' }).click();
  await emberplay.say('Ottoline', 'How warm should the water be for spelt?');
  await choose(ingrid, 'How warm should the water');
  await ingrid.keyboard.press('q');
  await expect(ingrid.getByText('Lined up.')).toBeVisible();
  const questions = teo
    .getByRole('group', { name: 'Which messages' })
    .getByRole('button', { name: /Questions/ });
  await expect(questions).toContainText('1');
  await questions.click();
  await choose(teo, 'How warm should the water');
  await teo.keyboard.press('m');
  await expect(teo.getByText('On the programme', { exact: true })).toBeVisible();
  await expect(ingrid.getByText('On the programme', { exact: true })).toBeVisible();
  await message(teo, 'How warm should the water').getByRole('button', { name: 'Answered' }).click();
  await expect(questions).toContainText('0');

  // What leaves the house as a file is what was written, with how each stands.
  const file = await teo.request.get(`/api/shows/${READY_SHOW_ID}/chat.jsonl`);
  const written = (await file.text())
    .trimEnd()
    .split('\n')
    .map(
      (line) => JSON.parse(line) as { text: string; destination: string; standing: string; question: string },
    );
  const there = (await emberplay.chat()).map(({ text }) => text);
  const here = written.filter(({ destination }) => destination === EMBERPLAY);
  expect(here.length).toBeGreaterThan(5);
  for (const { text } of here) expect(there).toContain(text);
  const standing = (text: string) => written.find((one) => one.text === text);
  expect(standing('And another thing')?.standing).toBe('hidden');
  expect(standing('How warm should the water be for spelt?')?.question).toBe('answered');
});
