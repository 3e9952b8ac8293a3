import type { Page } from '@playwright/test';
import { violations } from '../support/axe';
import {
  composeHost,
  endReadyShow,
  feeds,
  messages,
  pressTwice,
  READY_SHOW,
  READY_SHOW_ID,
  startOnAir,
} from '../support/desk';
import { expect, test } from '../support/house';
import { CARD_SPOT, isPaper, watchSpot } from '../support/media';
import { emberplay, kitefield } from '../support/place';

/** An evening of moderation in short: two places, two who moderate, a host, and what viewers really do. */
test.describe.configure({ timeout: 240_000 });

const EMBERPLAY = 'Emberplay, the school’s channel';
const KITEFIELD = 'Kitefield, the school’s channel';

test.afterEach(async ({ playwright, baseURL }) => {
  await emberplay.setBehind({ delayS: 5 });
  await endReadyShow(playwright, baseURL!);
});

test('viewers come, change their minds, flood, ask and are answered, and the file holds what was written', async ({
  as,
}) => {
  const run = Math.random().toString(36).slice(2, 8);
  const tagged = (text: string) => `${text} ${run}`;
  const row = (page: Page, start: string) =>
    messages(page).getByRole('listitem').filter({ hasText: start }).filter({ hasText: run });
  const teo = await as('Teo');
  await composeHost(teo);
  for (const place of [EMBERPLAY, KITEFIELD])
    await startOnAir(teo, `Start the feed to ${place}`, 'Start now');
  await emberplay.setBehind({ delayS: 14 });
  const ingrid = await as('Ingrid');
  await ingrid.goto(`/chat/${READY_SHOW_ID}`);
  await ingrid.getByLabel('To viewers everywhere').fill(tagged('Welcome, ask whatever you like'));
  await ingrid.getByRole('button', { name: 'Write', exact: true }).click();
  await ingrid.getByRole('button', { name: /^To everybody at/ }).click();
  await expect(row(ingrid, 'Welcome')).toHaveCount(2);

  // Who somebody is, is said beside the name; what they change or take back is changed here as well.
  const crust = await emberplay.tell({
    name: `Hedda ${run}`,
    text: tagged('What a crust'),
    badges: ['regular'],
    account_days: 3,
  });
  await expect(row(ingrid, 'What a crust').getByText('new', { exact: true })).toBeVisible();
  await expect(row(ingrid, 'What a crust')).toContainText('regular');
  await emberplay.edit(crust.id, tagged('What a crumb'));
  await expect(row(ingrid, 'What a crumb')).toContainText('changed');
  await expect(row(ingrid, 'What a crust')).toHaveCount(0);
  const slip = await kitefield.say('Orla', tagged('My number is 0800 seven'));
  await expect(row(ingrid, 'My number')).toBeVisible();
  await kitefield.takeBack(slip.id);
  await expect(row(ingrid, 'My number')).toContainText('Taken back by whoever wrote it');

  // The viewer's card: what is known, and a note that the others see.
  await row(ingrid, 'What a crumb').getByRole('button').first().click();
  await ingrid.getByRole('button', { name: 'Viewer', exact: true }).click();
  await expect(ingrid.getByText('account is 3 days old')).toBeVisible();
  await ingrid.getByLabel('Note for the team').fill(tagged('Has a mill of her own'));
  await ingrid.getByRole('button', { name: 'Keep the note' }).click();
  await expect(ingrid.getByText('Kept. No viewer ever sees it.')).toBeVisible();
  expect(await violations(ingrid)).toEqual([]);
  await expect(row(teo, 'What a crumb')).toContainText(tagged('Has a mill of her own'));

  // Rules of this show alone, at one of its places.
  await ingrid.getByRole('button', { name: 'Rules' }).click();
  const dialog = ingrid.getByRole('dialog', { name: 'Rules for messages' });
  await dialog.getByLabel('This show’s own').check();
  await expect(dialog.getByText('It has none yet: the house’s hold.', { exact: false })).toBeVisible();
  await dialog.getByRole('checkbox', { name: 'In a language other than these' }).check();
  await dialog.getByRole('textbox', { name: 'In a language other than these' }).fill('en');
  await dialog.getByRole('textbox', { name: 'In a language other than these' }).blur();
  const where = dialog.getByRole('listitem').filter({ hasText: 'In a language other than these' });
  await where.getByText('Where: everywhere').click();
  await where.getByLabel(EMBERPLAY).check();
  expect(await violations(ingrid)).toEqual([]);
  await dialog.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(dialog.getByText('Saved. They hold for what comes from now on.')).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();
  const german = tagged('Wie lange muss frisch gemahlenes Mehl eigentlich ruhen, bevor man damit backt?');
  await emberplay.say('Irmgard', german);
  await kitefield.say('Irmgard', `${german} Und warum?`);
  await expect(row(ingrid, `${german} Und warum?`)).toBeVisible();
  const lists = ingrid.getByRole('group', { name: 'Which messages' });
  await lists.getByRole('button', { name: /Set aside/ }).click();
  await expect(row(ingrid, german)).toContainText('another language');
  await expect(row(ingrid, german)).toHaveCount(1);
  await lists.getByRole('button', { name: 'Messages' }).click();

  // A raid, dealt with in one step, and a message that is hidden over there.
  const says = tagged('everybody meet at the other mill, bread is far better over there');
  await emberplay.flood({ kind: 'copies', per_s: 10, seconds: 4, writers: 30, says });
  await ingrid.getByRole('button', { name: 'Set all of it aside' }).click();
  await expect(row(ingrid, says)).toHaveCount(0);
  const rude = await emberplay.say(`Grumbler ${run}`, tagged('Your bread is flat'));
  await row(ingrid, 'Your bread is flat').getByRole('button').first().click();
  await pressTwice(ingrid, 'Hide', 'Hide it there too');
  await expect(ingrid.getByText('Hidden here and there.')).toBeVisible();
  expect((await emberplay.chat()).find(({ id }) => id === rude.id)!.hidden).toBe(true);

  // The host is told quietly, and nobody else; a question goes on the programme from the desk.
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  await kitefield.say('Beatrix', tagged('Your sleeve is in the dough'));
  await row(ingrid, 'Your sleeve').getByRole('button').first().click();
  await ingrid.getByRole('button', { name: 'Tell the host' }).click();
  await expect(odalys.getByText('For you', { exact: true })).toBeVisible();
  await expect(teo.getByText('For you', { exact: true })).toBeHidden();
  expect(await violations(odalys)).toEqual([]);
  const next = odalys.getByRole('region', { name: 'Next question' });
  await next.getByRole('button', { name: 'Seen', exact: true }).click();
  await expect(odalys.getByText('For you', { exact: true })).toBeHidden();
  await expect(row(ingrid, 'Your sleeve')).toContainText('seen by the host');
  await emberplay.say('Fenna', tagged('How warm may the flour be when it comes from the stones'));
  await row(ingrid, 'How warm may').getByRole('button').first().click();
  await ingrid.keyboard.press('q');
  await expect(next).toContainText('How warm may');
  await next.getByRole('button', { name: 'On programme' }).click();
  const on = teo.getByText('On the programme', { exact: true });
  await expect(on).toBeVisible();
  await expect(on).toBeHidden({ timeout: 20_000 });
  await next.getByRole('button', { name: 'Answered' }).click();
  await row(ingrid, 'How warm may').getByRole('button', { name: 'Answer', exact: true }).click();
  await ingrid.keyboard.type(tagged('At most forty degrees'));
  await ingrid.keyboard.press('Enter');
  await expect(row(ingrid, 'At most forty')).toBeVisible();

  // A moment is marked with one press, and named when there is time; what viewers press is counted.
  await teo.getByRole('button', { name: 'Mark this moment' }).click();
  const mark = teo.getByRole('textbox', { name: /^What happens at/ }).first();
  await mark.fill(tagged('The mill by the weir'));
  await mark.press('Enter');
  await expect(odalys.getByRole('textbox', { name: /^What happens at/ }).first()).toHaveValue(
    tagged('The mill by the weir'),
  );
  await emberplay.react('surprise', 17);
  await expect(ingrid.getByText(/\d+ surprises/)).toBeVisible();

  // How far behind viewers are is read off the place's own page.
  await feeds(teo)
    .getByRole('button', { name: /^Emberplay.*, look closely$/ })
    .click();
  await expect(teo.getByRole('dialog').getByText(/^14 s behind$/)).toBeVisible({ timeout: 30_000 });
  await teo.keyboard.press('Escape');

  await pressTwice(teo, 'End show', 'End everywhere now');
  await expect(feeds(teo).getByText('Ended here.')).toHaveCount(2);
  await expect.poll(async () => (await emberplay.lastArrival()).endedCleanly).toBe(true);
  const { received } = await emberplay.lastArrival();
  const paper = watchSpot(received, 300, ...CARD_SPOT).map(isPaper);
  expect(paper.some(Boolean)).toBe(true);
  expect(paper[0]).toBe(false);
  expect(paper.at(-1)).toBe(false);

  // The file holds what stands over there, each once, and what was taken back is marked so.
  const file = await ingrid.evaluate(
    async (id) => (await fetch(`/api/shows/${id}/chat.jsonl`)).text(),
    READY_SHOW_ID,
  );
  const kept = file
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as { text: string; takenBack: boolean; standing: string })
    .filter(({ text }) => text.includes(run));
  const there = [...(await emberplay.chat()), ...(await kitefield.chat())].filter(
    ({ text, deleted }) => !deleted && text.includes(run),
  );
  const texts = (all: readonly { text: string }[]) => all.map(({ text }) => text).sort();
  expect(texts(kept.filter(({ takenBack }) => !takenBack))).toEqual(texts(there));
  expect(kept.filter(({ takenBack }) => takenBack).map(({ text }) => text)).toEqual([
    tagged('My number is 0800 seven'),
  ]);
  const aside = kept.filter(({ standing }) => standing !== 'shown').map(({ text }) => text);
  expect(aside.filter((text) => !text.includes(says)).sort()).toEqual(
    [german, tagged('Your bread is flat')].sort(),
  );
  expect(aside.filter((text) => text.includes(says)).length).toBe(40);

  const chapters = await ingrid.evaluate(
    async (id) => (await fetch(`/api/shows/${id}/chapters.vtt`)).text(),
    READY_SHOW_ID,
  );
  expect(chapters).toContain(tagged('The mill by the weir'));

  // The next evening has the house's rules again.
  await ingrid.getByRole('button', { name: 'Rules' }).click();
  await dialog.getByRole('button', { name: 'Have none of its own' }).click();
  await expect(dialog.getByText('The house’s hold here again.')).toBeVisible();
});
