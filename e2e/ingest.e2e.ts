import type { Page } from '@playwright/test';
import { violations } from './support/axe';
import { composeHost, dropInputs, PASCOE, READY_SHOW, READY_SHOW_ID } from './support/desk';
import { Encoder } from './support/encoder';
import { expect, test } from './support/house';
import { probe, spotsNow, steps, toneNow } from './support/media';
import { lastArrival } from './support/place';
import { freePort } from './support/run';
import { endShow, endSpine, onAir, recordingsAreReady, startFeed } from './support/spine';

/** A picture that is made elsewhere: by an encoder outside, over the network, to viewers. */
test.describe.configure({ timeout: 180_000 });

const encoders: Encoder[] = [];
test.afterEach(async ({ playwright, baseURL }) => {
  for (const encoder of encoders.splice(0)) await encoder.kill();
  await endSpine(playwright, baseURL!);
  await dropInputs(playwright, baseURL!);
});

const send = (url: string, colour: string): Encoder => {
  const encoder = new Encoder(url, { colour });
  encoders.push(encoder);
  return encoder;
};
/** Makes an input on its page; gives where it is sent to. */
async function addInput(page: Page): Promise<{ address: string; key: string }> {
  await page.goto(`/shows/${READY_SHOW_ID}/ingest`);
  await page.getByRole('button', { name: 'Add an input' }).click();
  const card = page.getByRole('region', { name: 'Encoder' });
  await expect(card.getByText('Nothing has come')).toBeVisible();
  await card.getByRole('button', { name: 'Show', exact: true }).click();
  const address = (await card.getByText(/^rtmp:/).textContent())!;
  const key = (await card.getByText(/^[\w-]{27}$/).textContent())!;
  return { address, key };
}
const middle = async () => spotsNow((await lastArrival()).received, [640, 360])[0]!;
const isRed = ([r, g, b]: readonly number[]) => r! > 180 && g! < 80 && b! < 80;
const isBlue = ([r, g, b]: readonly number[]) => b! > 180 && r! < 80 && g! < 80;

test('an encoder outside is told from a wrong key, seen first, taken, lost, back, and recorded', async ({
  as,
}) => {
  const page = await as('Teo');
  const { address, key } = await addInput(page);
  const card = page.getByRole('region', { name: 'Encoder' });
  send(`${address}/${key}x`, 'red');
  await expect(card.getByText('Wrong key')).toBeVisible({ timeout: 20_000 });
  const encoder = send(`${address}/${key}`, 'red');
  await expect(card.getByText('Here, in preview')).toBeVisible({ timeout: 20_000 });
  await expect(card.getByText('The sound is mono: it is heard from both sides.')).toBeVisible();
  await expect(card.getByText('Sound of 44.1 kHz: it is made 48 kHz.')).toBeVisible();
  await expect(card.getByText(/1280x720, 25 frames a second/)).toBeVisible({ timeout: 20_000 });
  await expect(card.getByRole('img', { name: 'What comes from Encoder' })).toBeVisible({ timeout: 20_000 });
  expect(await violations(page)).toEqual([]);
  await card.getByRole('button', { name: 'Take as programme' }).click();
  await expect(card.getByText('Is the programme')).toBeVisible({ timeout: 20_000 });

  // On air without a desk that composes.
  await page.goto(READY_SHOW);
  await expect(page.getByText('Viewers get “Encoder”, and not what the desk composes.')).toBeVisible();
  await startFeed(page);
  await onAir(page);
  await expect.poll(async () => isRed(await middle()), { timeout: 30_000 }).toBe(true);
  expect(await violations(page)).toEqual([]);

  // The panic key, as ever.
  await page.keyboard.press('x');
  await expect.poll(async () => isRed(await middle()), { timeout: 30_000 }).toBe(false);
  await page.keyboard.press('x');
  await expect.poll(async () => isRed(await middle()), { timeout: 30_000 }).toBe(true);

  // Its machine dies, and another takes its place.
  await encoder.kill();
  await expect(page.getByText('The relay gets no picture', { exact: false })).toBeVisible({
    timeout: 20_000,
  });
  send(`${address}/${key}`, 'blue');
  await expect.poll(async () => isBlue(await middle()), { timeout: 40_000 }).toBe(true);
  const arrived = (await lastArrival()).received;
  await endShow(page);
  const got = probe(arrived);
  expect(got.codecs).toEqual(['aac', 'h264']);
  expect([got.width, got.height, got.sampleRate]).toEqual([1280, 720, 48_000]);
  expect(Math.max(...steps(got.audioFrames))).toBeLessThan(0.03);
  expect(Math.min(...steps(got.videoFrames.map(({ at }) => at)))).toBeGreaterThan(0);
  await recordingsAreReady(page);
  await expect(page.getByRole('link', { name: 'Save file of the Aired recording' }).first()).toBeVisible();
});

test('an encoder outside is a source on the stage beside a guest, dies, and is back', async ({ as }) => {
  const page = await as('Teo');
  const { address, key } = await addInput(page);
  const encoder = send(`${address}/${key}`, 'red');
  await composeHost(page);
  await page.keyboard.press('i');
  const guest = page.getByRole('button', { name: 'Bring on Benedikt Achterberg' });
  await expect(guest).toBeVisible({ timeout: 60_000 });
  await guest.click();
  await page.getByRole('button', { name: '“Encoder” to the stage' }).click();
  const row = page.getByRole('listitem').filter({ hasText: 'from outside' });
  await expect(row.getByText('Nothing comes from its encoder.')).toBeHidden({ timeout: 20_000 });
  await page.getByRole('button', { name: 'Bring on Encoder' }).click();
  await startFeed(page);
  await onAir(page);

  // Large beside the two people, as it comes: red, and with its tone.
  const large = async () => spotsNow((await lastArrival()).received, [400, 360])[0]!;
  const tone = async () => toneNow((await lastArrival()).received, 440);
  await expect.poll(async () => isRed(await large()), { timeout: 30_000 }).toBe(true);
  await expect.poll(tone, { timeout: 20_000 }).toBeGreaterThan(0.05);
  expect(await violations(page)).toEqual([]);

  await encoder.kill();
  await expect(row.getByText('Nothing comes from its encoder.')).toBeVisible({ timeout: 20_000 });
  await expect.poll(async () => isRed(await large()), { timeout: 30_000 }).toBe(false);
  await expect.poll(tone, { timeout: 20_000 }).toBeLessThan(0.01);
  send(`${address}/${key}`, 'blue');
  await expect.poll(async () => isBlue(await large()), { timeout: 40_000 }).toBe(true);
  await expect.poll(tone, { timeout: 20_000 }).toBeGreaterThan(0.05);

  // It is somebody of the show from now on: laid out as a person, and named.
  await page.getByRole('button', { name: 'Adjust Encoder' }).click();
  await page.getByLabel('It shows').selectOption({ label: PASCOE });
  const pascoe = page.getByRole('button', { name: `Take off ${PASCOE}` });
  await expect(pascoe).toBeVisible();
  await expect.poll(async () => isBlue(await large()), { timeout: 30_000 }).toBe(false);
  await page.keyboard.press('Escape');
  await pascoe.click();
  await page.getByRole('button', { name: `Remove ${PASCOE}’s picture` }).click();
  await expect(page.getByRole('button', { name: '“Encoder” to the stage' })).toBeVisible();
  await endShow(page);
  await page.getByRole('button', { name: 'Send away Benedikt Achterberg' }).click();
  await expect(page.getByText('Benedikt Achterberg')).toHaveCount(0);
  const got = probe((await lastArrival()).received);
  expect(Math.max(...steps(got.audioFrames))).toBeLessThan(0.03);
});

test('an input of the team’s own is called where it listens, watched, and booked from show to show', async ({
  as,
}) => {
  const page = await as('Teo');
  await addInput(page);
  const card = page.getByRole('region', { name: 'Encoder' });
  const at = `srt://127.0.0.1:${await freePort()}`;
  const listening = (colour: string) => {
    const encoder = new Encoder(`${at}?mode=listener`, { colour, passphrase: 'a phrase & a half' });
    encoders.push(encoder);
    return encoder;
  };
  await card.getByText('Settings').click();
  await card.getByLabel('It stays with the team').check();
  await card.getByLabel('How it comes').selectOption({ label: 'by SRT, called from here' });
  await card.getByLabel('Where the encoder listens').fill(at);
  await card.getByLabel('Passphrase, if it has one').fill('another phrase');
  await card.getByRole('button', { name: 'Call it' }).click();
  await expect(card.getByText('It is called, and nobody answers.')).toBeVisible({ timeout: 20_000 });
  const first = listening('red');
  await expect(card.getByText('It answers, and wants another passphrase.')).toBeVisible({ timeout: 20_000 });
  await card.getByLabel('Passphrase, if it has one').fill('a phrase & a half');
  await card.getByRole('button', { name: 'Call it' }).click();
  await expect(card.getByText('Here, in preview')).toBeVisible({ timeout: 20_000 });

  await card.getByRole('button', { name: 'Watch it move' }).click();
  const moving = card.getByRole('img', { name: 'What comes from Encoder, moving' });
  const isSeen = (is: (spot: readonly number[]) => boolean) =>
    expect
      .poll(
        async () =>
          is(
            await moving.evaluate((canvas: HTMLCanvasElement) => [
              ...canvas.getContext('2d')!.getImageData(320, 180, 1, 1).data,
            ]),
          ),
        { timeout: 30_000 },
      )
      .toBe(true);
  await isSeen(isRed);
  await expect(card.getByText(/^Loudness −\d+ LUFS$/)).toBeVisible({ timeout: 20_000 });
  await card.getByRole('button', { name: 'Listen' }).click();
  expect(await violations(page)).toEqual([]);

  await card.getByRole('button', { name: 'Book it to no show' }).click();
  await expect(card).toHaveCount(0);
  const own = page.getByRole('region', { name: 'The team’s own inputs' });
  await expect(own.getByText('booked to no show')).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await first.kill();
  await own.getByRole('button', { name: 'Book “Encoder” here' }).click();
  await expect(own).toHaveCount(0);
  listening('blue');
  await expect(card.getByText('Here, in preview')).toBeVisible({ timeout: 20_000 });
  await card.getByRole('button', { name: 'Watch it move' }).click();
  await isSeen(isBlue);
});

test('a stand-in meeting that comes by SRT is taken over what the desk composes, by a cut, and given back', async ({
  as,
}) => {
  const page = await as('Teo');
  await addInput(page);
  await composeHost(page);
  const other = await as('Odalys');
  await other.goto(`/shows/${READY_SHOW_ID}/ingest`);
  const card = other.getByRole('region', { name: 'Encoder' });
  await card.getByText('Settings').click();
  await card.getByLabel('How it comes').selectOption({ label: 'by SRT' });
  await expect(card.getByText(/^srt:\/\/localhost:/)).toBeVisible();
  expect(await violations(other)).toEqual([]);
  await card.getByRole('button', { name: 'Stand-in meeting' }).click();
  await expect(card.getByText('Here, in preview')).toBeVisible({ timeout: 60_000 });

  const words = page.getByText('Viewers get “Encoder”, and not what the desk composes.');
  const take = page.getByRole('button', { name: 'Take “Encoder”' });
  await expect(take).toBeEnabled({ timeout: 20_000 });
  await take.click();
  await expect(words).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole('img', { name: 'The programme, from outside' })).toBeVisible();
  await expect(card.getByText('Is the programme')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the desk' }).click();
  await expect(words).toBeHidden();
  await expect(page.getByRole('img', { name: 'The programme’s picture' })).toBeVisible();
  await expect(page.getByText('The relay has the programme.')).toBeVisible();
  await card.getByRole('button', { name: 'Switch it off' }).click();
  await expect(card.getByText('Nothing has come')).toBeVisible({ timeout: 20_000 });
});
