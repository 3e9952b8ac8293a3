import { addPattern, feeds, ODALYS } from './support/desk';
import { expect, newTitle, test } from './support/house';
import { placeAt } from './support/place';

const emberplay = placeAt('emberplay');

/** The demo's show of some days ahead. */
const LATER_SHOW = '/desk/c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f02';

test.setTimeout(120_000);

test('a show of another day airs only after a question, is drilled instead, and is put back to planned', async ({
  as,
}) => {
  const teo = await as('Teo');
  // Written to whoever was on this channel before.
  const before = newTitle('What was that last song');
  await emberplay.say('Ilse', before);
  const saidAtMs = Date.now();
  await teo.goto(LATER_SHOW);
  await teo.getByRole('button', { name: 'Compose here' }).click();
  await addPattern(teo, ODALYS);
  await teo.getByRole('button', { name: `Bring on ${ODALYS}` }).click();
  await expect(teo.getByText('The relay has the programme.')).toBeVisible();

  // By habit, twice: nothing is sent.
  await teo.keyboard.press('Shift+Digit0');
  await teo.keyboard.press('Shift+Digit0');
  const asks = teo.getByRole('dialog', { name: /^This show is planned for .*, in \d/ });
  await expect(asks).toContainText('Emberplay');
  await expect(asks.getByRole('button', { name: 'Do not start' })).toBeFocused();
  await teo.keyboard.press('Enter');
  await expect(asks).toBeHidden();
  await expect(teo.getByRole('button', { name: 'End show' })).toHaveCount(0);

  await teo.getByRole('button', { name: 'Start everywhere' }).click();
  await asks.getByRole('button', { name: 'Begin a drill' }).click();
  await teo.getByRole('button', { name: /End the drill/ }).click();

  await teo.getByRole('button', { name: /Start the feed to Emberplay/ }).click();
  // Clocks of places are allowed to be some seconds off.
  await expect.poll(() => Date.now() - saidAtMs).toBeGreaterThan(6000);
  await asks.getByRole('button', { name: 'Go on air now' }).click();
  await expect(feeds(teo).getByText('Seen from outside.')).toBeVisible({ timeout: 20_000 });

  // Its channel's chat goes on from show to show; only what is written to this one comes here.
  const now = newTitle('When does the dough rest');
  await emberplay.say('Ilse', now);
  const list = teo.getByRole('list', { name: 'Messages, in the order of writing' });
  await expect(list.getByText(now)).toBeVisible();
  await expect(list.getByText(before)).toHaveCount(0);

  // Covered is said where the feeds are, too.
  await teo.keyboard.press('x');
  await expect(feeds(teo).getByText('Viewers there see the standby slate and hear nothing.')).toBeVisible();
  await expect(feeds(teo).getByText('Seen from outside.')).toBeHidden();
  await teo.keyboard.press('x');

  await teo.getByRole('button', { name: 'End show' }).click();
  await teo.getByRole('button', { name: 'End everywhere now' }).click();
  await expect(feeds(teo).getByText(/^The show ended at/)).toBeVisible();
  await expect(teo.getByText('Nobody is in the programme.')).toBeVisible();
  await expect(teo.getByRole('button', { name: /^Start/ })).toHaveCount(0);
  const putBack = async () => {
    await teo.getByRole('button', { name: 'Put back to planned' }).click();
    await teo.getByRole('button', { name: 'Put back now' }).click();
  };
  // The place may still be ending its event, and then it says so.
  await expect(async () => {
    await putBack();
    await expect(teo.getByRole('button', { name: 'Start everywhere' })).toBeVisible({ timeout: 2000 });
  }).toPass({ timeout: 30_000 });
  await teo.goto('/shows');
  await expect(teo.getByText('Live', { exact: true })).toHaveCount(0);
});
