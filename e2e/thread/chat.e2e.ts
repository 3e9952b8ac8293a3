import {
  composeHost,
  endReadyShow,
  feeds,
  messages,
  pressTwice,
  READY_SHOW,
  startOnAir,
} from '../support/desk';
import { expect, pidOf, test } from '../support/house';
import { emberplay, kitefield } from '../support/place';
import type { Page } from '@playwright/test';

/** Viewers' messages when the way to them is not smooth. */
test.afterEach(async ({ playwright, baseURL }) => {
  for (const place of [emberplay, kitefield]) await place.setFaults({});
  await endReadyShow(playwright, baseURL!);
});

async function onAirAtEmberplay(page: Page): Promise<void> {
  await composeHost(page);
  await startOnAir(page, /Start the feed to Emberplay/, 'Start now');
  await expect(feeds(page).getByText('Seen from outside.')).toBeVisible();
}

/** A word that no other message has. */
const word = () => `w${Math.random().toString(36).slice(2, 10)}`;

test('HTML and ten thousand characters are text, and push nothing away', async ({ as }) => {
  const teo = await as('Teo');
  await onAirAtEmberplay(teo);
  const [evil, endless] = [word(), word()];
  await emberplay.say(
    '<b>Mallory</b>',
    `${evil} <img src=x onerror="document.title='had'"><script>1</script>`,
  );
  await emberplay.say('Endless', `${endless} ${'x'.repeat(10_000)}`);
  const list = messages(teo);
  await expect(list.getByText(`${evil} <img src=x`, { exact: false })).toBeVisible();
  await expect(list.getByText('<b>Mallory</b>')).toBeVisible();
  const long = list.getByRole('listitem').filter({ hasText: endless });
  // The house's rules keep what is very long for a person.
  const lists = teo.getByRole('group', { name: 'Which messages' });
  await lists.getByRole('button', { name: /Set aside/ }).click();
  await expect(long).toContainText('Set aside: very long');
  expect((await long.boundingBox())!.height).toBeLessThan(270);
  await long.getByRole('button').click();
  await long.getByRole('button', { name: 'Let through' }).click();
  await lists.getByRole('button', { name: 'Messages' }).click();
  await long.getByRole('button').click();
  await long.getByRole('button', { name: 'On programme' }).click();
  await expect(teo.getByText('On the programme', { exact: true })).toBeVisible();
  await expect(teo.getByLabel('To viewers everywhere')).toBeInViewport();
  expect(await teo.title()).not.toContain('had');
});

test('a chat’s line that drops, a token that ends and a server that dies lose nothing and bring nothing twice', async ({
  as,
}) => {
  const teo = await as('Teo');
  await onAirAtEmberplay(teo);
  const words = Array.from({ length: 6 }, word);
  const list = messages(teo);
  await emberplay.say('A', words[0]!);
  await expect(list.getByText(words[0]!)).toBeVisible();
  await emberplay.dropChat();
  await emberplay.say('B', words[1]!);
  await expect(list.getByText(words[1]!)).toBeVisible();
  // In mid-show the short token is over, and the place hangs for a while: the line comes back by itself.
  await emberplay.expireTokens();
  await emberplay.setFaults({ api: 'hangs' });
  await emberplay.dropChat();
  await emberplay.say('C', words[2]!);
  await expect(teo.getByText('is lost and is being made again', { exact: false })).toBeVisible();
  await emberplay.setFaults({});
  await expect(list.getByText(words[2]!)).toBeVisible();
  await expect(teo.getByText('is lost and is being made again', { exact: false })).toBeHidden();
  // The web server dies and comes back.
  process.kill(pidOf('server'), 'SIGKILL');
  await emberplay.say('D', words[3]!);
  await expect(list.getByText(words[3]!)).toBeVisible({ timeout: 40_000 });
  for (const one of words.slice(0, 4)) await expect(list.getByText(one)).toHaveCount(1);
});

test('two of the team see the same, and a moderator puts a message on the programme', async ({ as }) => {
  const teo = await as('Teo');
  await onAirAtEmberplay(teo);
  const ingrid = await as('Ingrid');
  await ingrid.goto(READY_SHOW);
  const said = word();
  await emberplay.say('Casimir Oduya', said);
  const row = messages(ingrid).getByRole('listitem').filter({ hasText: said });
  await row.getByRole('button').click();
  await row.getByRole('button', { name: 'On programme' }).click();
  for (const page of [teo, ingrid])
    await expect(page.getByText('On the programme', { exact: true })).toBeVisible();
  await ingrid.getByRole('button', { name: 'Take off', exact: true }).first().click();
  for (const page of [teo, ingrid])
    await expect(page.getByText('On the programme', { exact: true })).toBeHidden();
});

test('ending with one place unreachable ends here and there, and says what is still open', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  await startOnAir(teo, /Start the feed to Kitefield/, 'Start now');
  await expect(feeds(teo).getByText('It has to be published.', { exact: false })).toBeVisible();
  await pressTwice(teo, /Publish at Kitefield/, 'Publish now');
  await expect(feeds(teo).getByText('Seen from outside.')).toBeVisible();
  await kitefield.setFaults({ api: 'hangs' });
  await pressTwice(teo, 'End show', 'End everywhere now');
  await expect(feeds(teo).getByText('The place has not confirmed yet', { exact: false })).toBeVisible();
  const row = feeds(teo).getByRole('listitem').filter({ hasText: 'Kitefield' });
  await expect(row.getByText('Ended here.', { exact: true })).toBeVisible();
  expect((await kitefield.events()).at(-1)!.state).not.toBe('ended');
  await kitefield.setFaults({});
  await expect(feeds(teo).getByText('The place has not confirmed yet', { exact: false })).toBeHidden();
  expect((await kitefield.events()).at(-1)!.state).toBe('ended');
});

test('a place with an event that fails is said so, and nothing is started', async ({ as }) => {
  const teo = await as('Teo');
  await composeHost(teo);
  for (const api of ['fails', 'hangs']) {
    await kitefield.setFaults({ api });
    await startOnAir(teo, /Start the feed to Kitefield/, 'Start now');
    await expect(
      feeds(teo).getByText('does not answer just now, so the feed was not started', { exact: false }),
    ).toBeVisible();
    await kitefield.setFaults({});
    await expect(feeds(teo).getByRole('button', { name: /Start the feed to Kitefield/ })).toBeEnabled();
  }
});
