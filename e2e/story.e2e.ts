import {
  composeHost,
  endReadyShow,
  feeds,
  guestGoesIn,
  makeLink,
  messages,
  PASCOE,
  pressTwice,
  READY_SHOW_ID,
  startOnAir,
} from './support/desk';
import { violations } from './support/axe';
import { expect, test } from './support/house';
import { CARD_SPOT, isPaper, probe, readPair, watchSpot } from './support/media';
import { emberplay, kitefield } from './support/place';

/** A whole show, from the plan to the recording: with a remote guest, two places, their viewers, and an ending. */
test.describe.configure({ timeout: 240_000 });

test.afterEach(async ({ playwright, baseURL }) => {
  await endReadyShow(playwright, baseURL!);
});

/** The first thing that the crowd of either place writes. */
const GREETING = 'Good evening from the north coast';

test('a show with a remote guest goes to two places, is talked about, and ends well', async ({
  as,
  browser,
}) => {
  const teo = await as('Teo');
  // Nothing that another run wrote can be taken for this one's.
  const run = Math.random().toString(36).slice(2, 8);
  const [answer, greeting] = [`Ten days, if you can wait ${run}`, `Good evening to you all ${run}`];

  // The plan: a title of its own at one place, and a link for the guest.
  const link = await makeLink(teo);
  await teo.getByRole('link', { name: 'Listings', exact: true }).click();
  await teo.getByRole('button', { name: 'Edit the listing at Kitefield' }).click();
  const title = teo.getByLabel('Title there');
  await title.fill('Flour 🍞 judged by hand');
  await expect(teo.getByText('23 of 96')).toBeVisible();
  await title.press('Tab');

  // The guest looks at themselves and comes into the wings.
  const pascoe = await guestGoesIn(browser, link);
  await expect(
    pascoe.getByText('The team has not opened the programme yet.', { exact: false }),
  ).toBeVisible();

  // The desk: host and guest side by side.
  await composeHost(teo);
  await teo.getByRole('button', { name: `Bring on ${PASCOE}` }).click();
  await teo.keyboard.press('r');
  await expect(pascoe.getByText('On stage', { exact: true })).toBeVisible();
  await expect(pascoe.getByText('It does not reach viewers yet.', { exact: false })).toBeVisible();
  await expect(pascoe.getByLabel('The programme')).toBeVisible();
  expect(await violations(pascoe)).toEqual([]);

  // On air: one place is public on arrival, the other has to be published.
  await startOnAir(teo, 'Start everywhere', 'Start everywhere now');
  await expect(feeds(teo).getByText('It has to be published.', { exact: false })).toBeVisible();
  await expect(pascoe.getByText('On air', { exact: true })).toBeVisible();
  await pressTwice(teo, /Publish at Kitefield/, 'Publish now');
  await expect(feeds(teo).getByText('Seen from outside.')).toHaveCount(2);
  const event = (await kitefield.events()).at(-1)!;
  expect(event['title']).toBe('Flour 🍞 judged by hand');

  // Viewers come and write, at both places, each some seconds behind.
  const list = messages(teo);
  await expect(feeds(teo).getByText('watching')).toHaveCount(2, { timeout: 30_000 });
  for (const [name, place] of [
    ['Emberplay', emberplay],
    ['Kitefield', kitefield],
  ] as const) {
    const greeted = async () => (await place.chat()).some(({ text }) => text === GREETING);
    await expect.poll(greeted, { timeout: 30_000 }).toBe(true);
    const there = list.getByRole('listitem').filter({ has: teo.getByRole('img', { name }) });
    await expect(there.getByText(GREETING).last()).toBeVisible();
  }
  const asked = await emberplay.say('Fenna W.', `How do I know when flour is too fresh? ${run}`);
  const question = list.getByRole('listitem').filter({ hasText: asked.text });
  await expect(question).toBeVisible();
  expect(await violations(teo)).toEqual([]);

  // One question goes on the programme, and leaves by itself.
  await question.getByRole('button').click();
  await teo.getByLabel('Seconds on the programme').selectOption('for 5 s');
  await teo.keyboard.press('Escape');
  await question.getByRole('button', { name: 'On programme' }).click();
  await expect(teo.getByText('On the programme', { exact: true })).toBeVisible();
  await expect(teo.getByText('On the programme', { exact: true })).toBeHidden();

  // It is answered where it was asked, and everybody is greeted.
  await question.getByRole('button', { name: 'Answer' }).click();
  await teo.keyboard.type(answer);
  await teo.keyboard.press('Enter');
  const answers = async () =>
    [...(await emberplay.chat()), ...(await kitefield.chat())].filter(({ text }) => text.startsWith(answer));
  await expect.poll(async () => (await answers()).length).toBe(1);
  expect((await answers())[0]!.reply_to).toBe(asked.id);
  const field = teo.getByLabel('To viewers everywhere');
  await expect(field).toHaveValue('');
  // The cursor is out of the field, which would now write to everybody.
  await expect(question.getByRole('button').first()).toBeFocused();
  await field.fill(greeting);
  await field.press('Enter');
  await expect(teo.getByRole('button', { name: 'To everybody at 2 places. Press again' })).toBeVisible();
  await field.press('Enter');
  for (const place of [emberplay, kitefield]) {
    await expect
      .poll(async () => (await place.chat()).filter(({ text }) => text === greeting).length)
      .toBe(1);
  }
  await expect(list.getByText(greeting)).toHaveCount(2);

  // The end: asked once, at every place; nobody is in the programme any more, and the talk goes on.
  await pressTwice(teo, 'End show', 'End everywhere now');
  await expect(feeds(teo).getByText('Ended here.')).toHaveCount(2);
  await expect(pascoe.getByText('In the wings', { exact: true })).toBeVisible();
  await expect.poll(async () => (await kitefield.events()).at(-1)!.state).toBe('ended');
  await emberplay.say('Amparo Lisle', `That was lovely ${run}`);
  await expect(list.getByText(`That was lovely ${run}`)).toBeVisible();
  await expect(teo.getByText('The show is over; the chats stay open.')).toBeVisible();

  // What remains: both recordings, and the chat as files.
  await expect(
    feeds(teo)
      .getByRole('link', { name: /Save file of the Programme/ })
      .first(),
  ).toBeVisible({
    timeout: 40_000,
  });
  const files = await teo.evaluate(async (id) => {
    const read = async (kind: string) => (await fetch(`/api/shows/${id}/chat.${kind}`)).text();
    return { csv: await read('csv'), vtt: await read('vtt') };
  }, READY_SHOW_ID);
  expect(files.csv).toContain(GREETING);
  expect(files.csv).toContain(`,yes,shown,none,message,no,${greeting}`);
  expect(files.vtt).toMatch(/^WEBVTT\n\n00:00:\d\d\.\d{3} --> /);

  // And at both places both people were in the picture, and the message came and went.
  for (const place of [emberplay, kitefield]) {
    const { received, endedCleanly, health } = await place.lastArrival();
    expect(endedCleanly).toBe(true);
    expect(health).toMatchObject({ notRising: 0, formatChanges: 0 });
    const { videoFrames } = probe(received);
    // From when the guest is surely in the picture; over long enough for a machine that has much to do.
    const seen = readPair(received, 6, 20, 2);
    // The host's ground is #2f5d8a; the guest's, #2e8b57, went through the room as well. Of most frames: a few are coarse
    // where the desk has too much to do.
    const [host, guest] = [0, 1].map((tile) => usual(seen.map((tiles) => tiles[tile]!.colour)));
    expectColour(host!, [0x2f, 0x5d, 0x8a], 24);
    expectGreen(guest!);
    const numbers = seen.map((tiles) => tiles[1]!.number).filter((number) => number !== null);
    expect(numbers.length).toBeGreaterThan(5);
    expect(numbers.at(-1)!).toBeGreaterThan(numbers[0]!);
    const spot = watchSpot(received, videoFrames.at(-1)!.at, ...CARD_SPOT).map(isPaper);
    const shown = spot.filter(Boolean).length / 2;
    // Five seconds; of which a desk that has too much to do composes only some.
    expect(shown).toBeGreaterThan(0);
    expect(shown).toBeLessThan(8);
    expect(spot[0]).toBe(false);
    expect(spot.at(-1)).toBe(false);
  }
  await pascoe.context().close();
});

function expectColour(got: readonly number[], wanted: readonly number[], within: number): void {
  got.forEach((value, i) => expect(Math.abs(value - wanted[i]!)).toBeLessThan(within));
}

/** The middle of each channel. */
const usual = (colours: readonly (readonly [number, number, number])[]): [number, number, number] => {
  const middle = (channel: 0 | 1 | 2) =>
    colours.map((colour) => colour[channel]).sort((a, b) => a - b)[Math.floor(colours.length / 2)]!;
  return [middle(0), middle(1), middle(2)];
};

/** Two encoders, with colours halved in both directions: still plainly green. */
function expectGreen([r, g, b]: readonly number[]): void {
  expect(g!).toBeGreaterThan(r! + 30);
  expect(g!).toBeGreaterThan(b! + 20);
}
