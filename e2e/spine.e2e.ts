import { readFileSync } from 'node:fs';
import { violations } from './support/axe';
import { feeds, PASCOE, READY_SHOW, startOnAir } from './support/desk';
import { addresses, expect, makeShow, newTitle, test } from './support/house';
import { audioOnsets, longestGroup, longestStretch, probe, readPair, steps } from './support/media';
import { lastArrival } from './support/place';
import {
  composePair,
  endShow,
  endSpine,
  onAir,
  pictures,
  recordingsAreReady,
  startFeed,
} from './support/spine';

/** From a moving picture at the desk to a place outside and a recording: on real media, in one browser. */
test.describe.configure({ timeout: 120_000 });

test.afterEach(({ playwright, baseURL }) => endSpine(playwright, baseURL!));

test('what is composed arrives as it was composed, and is recorded', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const before = await pictures();
  await expect.poll(pictures, { timeout: 30_000 }).toBeGreaterThan(before + 270);
  await endShow(page);
  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);

  const { received, health } = await lastArrival();
  expect(health).toMatchObject({ notRising: 0, formatChanges: 0 });
  expect(health.gaps.sound).toBe(0);
  const got = probe(received);
  expect(got).toMatchObject({ codecs: ['aac', 'h264'], width: 1280, height: 720, sampleRate: 48_000 });
  const times = got.videoFrames.map(({ at }) => at);
  const pictureSteps = steps(times);
  expect(Math.min(...pictureSteps)).toBeGreaterThan(0);
  // How much a busy machine leaves out is for the bench to say. Here: what comes keeps to the programme's own steps,
  const usual = [...pictureSteps].sort((a, b) => a - b)[pictureSteps.length >> 1]!;
  expect(Math.abs(usual - 1 / 30)).toBeLessThan(0.002);
  // and a keyframe is never later than the first picture that was made two seconds after the one before.
  expect(longestGroup(got.videoFrames)).toBeLessThan(2);
  expect(Math.min(...steps(got.audioFrames))).toBeGreaterThan(0);
  expect(Math.max(...steps(got.audioFrames))).toBeLessThan(0.03);

  const seen = readPair(received, 4, 3);
  expect(seen.length).toBeGreaterThan(20);
  const [left, right] = seen[10]!;
  // Each has the ground of its own: #2f5d8a and #7a3f6b, within what compression leaves of it.
  expectColour(left!.colour, [0x2f, 0x5d, 0x8a]);
  expectColour(right!.colour, [0x7a, 0x3f, 0x6b]);
  for (const tile of [0, 1]) {
    const numbers = seen.map((tiles) => tiles[tile]!.number).filter((number) => number !== null);
    expect(numbers.length).toBeGreaterThan(seen.length * 0.95);
    expect(steps(numbers).every((step) => step >= 0)).toBe(true);
    expect(numbers.at(-1)! - numbers[0]!).toBeGreaterThan(60);
    expect(new Set(numbers).size).toBeGreaterThan(seen.length / 3);
  }
  expect(seen.some((tiles) => tiles[0]!.flash)).toBe(true);
  expect(seen.some((tiles) => !tiles[0]!.flash)).toBe(true);
  const onsets = audioOnsets(received);
  expect(onsets.length).toBeGreaterThan(5);
  // Once a second; when the machine is held up, one may come late or be left out.
  const apart = steps(onsets).sort((a, b) => a - b);
  expect(Math.abs(apart[apart.length >> 1]! - 1)).toBeLessThan(0.05);
});

function expectColour(got: readonly number[], wanted: readonly number[]): void {
  got.forEach((value, i) => expect(Math.abs(value - wanted[i]!)).toBeLessThan(24));
}

test('both recordings can be sought in and played', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const before = await pictures();
  await expect.poll(pictures, { timeout: 30_000 }).toBeGreaterThan(before + 150);
  await endShow(page);
  await recordingsAreReady(page);
  for (const kind of ['Programme', 'Aired']) {
    await page
      .getByRole('button', { name: `Watch the ${kind} recording` })
      .first()
      .click({ timeout: 30_000 });
    const video = page.getByLabel(`${kind} recording`, { exact: true });
    const played = await video.evaluate(async (element: HTMLVideoElement) => {
      const happens = (name: string) =>
        new Promise((done) => element.addEventListener(name, done, { once: true }));
      if (element.readyState < 1) await happens('loadedmetadata');
      element.muted = true;
      element.currentTime = element.duration / 2;
      await happens('seeked');
      const soughtTo = element.currentTime;
      await element.play();
      await new Promise<void>((done) => {
        element.addEventListener('timeupdate', () => {
          if (element.currentTime > soughtTo + 0.5) done();
        });
      });
      return { width: element.videoWidth, duration: element.duration, soughtTo };
    });
    expect(played.width).toBe(1280);
    expect(played.duration).toBeGreaterThan(4);
    expect(played.soughtTo).toBeCloseTo(played.duration / 2, 0);
  }
});

test('a reload comes back into the running show, on the same connection', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const { id } = await lastArrival();
  const before = await pictures();
  page.on('dialog', (dialog) => void dialog.accept());
  await page.reload();
  await expect(page.getByRole('img', { name: 'The programme’s picture' })).toBeVisible();
  await expect(page.getByText('The relay has the programme.')).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole('button', { name: `Take off ${PASCOE}` })).toBeVisible();
  await expect.poll(pictures, { timeout: 20_000 }).toBeGreaterThan(before + 60);
  const arrival = await lastArrival();
  expect(arrival.id).toBe(id);
  expect(arrival.health).toMatchObject({ notRising: 0, formatChanges: 0 });
  await endShow(page);
  expect(probe((await lastArrival()).received).codecs).toEqual(['aac', 'h264']);
});

test('leaving a running show asks; a look at the plan does not end it', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const asked = new Promise((done) =>
    page.once('dialog', (dialog) => void dialog.dismiss().then(() => done(dialog.type()))),
  );
  await page.close({ runBeforeUnload: true });
  expect(await asked).toBe('beforeunload');
  const before = await pictures();
  await page.getByRole('link', { name: 'Plan' }).click();
  await expect(page.getByLabel('Title', { exact: true })).toBeVisible();
  await expect.poll(pictures).toBeGreaterThan(before + 60);

  // Whatever page it is, it says what this tab composes, and asks before that is ended.
  const here = page.getByRole('complementary', { name: 'Composed in this tab' });
  await expect(here).toContainText('On air');
  await page.getByRole('link', { name: 'Shows', exact: true }).click();
  await page.getByText('Old wheats in a modern mixer').click();
  await page.getByRole('link', { name: 'To the desk' }).click();
  const asks = page.getByRole('dialog');
  await expect(asks).toContainText('It is on air.');
  await expect(asks.getByRole('button', { name: 'Stay with it' })).toBeFocused();
  expect(await violations(page)).toEqual([]);
  await page.keyboard.press('Enter');
  await expect(asks).toBeHidden();
  expect(page.url()).not.toContain('/desk/');
  await page.getByRole('banner').getByRole('button').click();
  await page.getByRole('button', { name: 'Sign out' }).click();
  await expect(asks).toContainText('It is on air.');
  await asks.getByRole('button', { name: 'Stay with it' }).click();
  await here.getByRole('link', { name: 'To its desk' }).click();
  await expect(page.getByRole('img', { name: 'The programme’s picture' })).toBeVisible();
  await endShow(page);
});

test('the panic key is above dialogs, lists and fields, and nothing else is', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const covered = page.getByText('Covered: viewers see the slate', { exact: true });
  await page.keyboard.press('?');
  const dialog = page.getByRole('dialog', { name: 'Keys of the desk' });
  await expect(dialog).toBeVisible();
  // With Caps Lock a letter comes as a capital without Shift.
  await dialog.dispatchEvent('keydown', { key: 'X', code: 'KeyX', bubbles: true, cancelable: true });
  await expect(covered).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('x');
  await expect(covered).toBeHidden();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByRole('button', { name: 'Grid', exact: true })).toHaveAttribute(
    'aria-pressed',
    'false',
  );
  const field = page.getByLabel('To viewers everywhere');
  await field.fill('he');
  await field.press('x');
  await expect(field).toHaveValue('hex');
  await expect(covered).toBeHidden();
  await field.press('Alt+x');
  await expect(covered).toBeVisible();
  await field.press('Alt+x');
  await expect(covered).toBeHidden();
  await field.fill('');

  // The key that starts a feed never ends it; another does, in two presses, and Escape takes the first back.
  await page.getByRole('heading', { name: 'Feeds' }).click();
  for (let press = 0; press < 3; press++) await page.keyboard.press('Shift+Digit2');
  const armed = feeds(page).getByRole('button', { name: 'End now' });
  await expect(armed).toHaveCount(0);
  await page.keyboard.press('Alt+Shift+Digit2');
  await expect(armed).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(armed).toHaveCount(0);
  await onAir(page);
  await page.keyboard.press('Alt+Shift+Digit2');
  await page.keyboard.press('Alt+Shift+Digit2');
  await expect.poll(async () => (await lastArrival()).endedCleanly).toBe(true);
  await endShow(page);
});

test('the panic key covers at once and takes the cover away', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  await page.keyboard.press('x');
  await expect(page.getByText('Covered: viewers see the slate', { exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Show again' })).toHaveAttribute('aria-pressed', 'true');
  const covered = await pictures();
  await expect.poll(pictures).toBeGreaterThan(covered + 60);
  await page.keyboard.press('x');
  await expect(page.getByText('Covered: viewers see the slate', { exact: true })).toBeHidden();
  const shown = await pictures();
  await expect.poll(pictures).toBeGreaterThan(shown + 60);
  await endShow(page);
  const { received } = await lastArrival();
  const { videoFrames: got } = probe(received);
  // Ten a second: where everything takes its time, all of a long show are more than can be held at once.
  const numbers = readPair(received, 0, got.at(-1)!.at + 1, 10).map(([left]) => left!.number);
  // The slate has no numbers in it; the programme before and after it has.
  const slate = longestStretch(numbers.map((number) => number === null));
  expect(slate.to - slate.from).toBeGreaterThan(13);
  for (const programme of [numbers.slice(0, slate.from), numbers.slice(slate.to)])
    expect(programme.filter((number) => number !== null).length).toBeGreaterThan(4);
});

test('one desk composes at a time, and another may take over', async ({ as }) => {
  const teo = await as('Teo');
  await composePair(teo);
  const odalys = await as('Odalys');
  await odalys.goto(READY_SHOW);
  await expect(odalys.getByText('Teo Marchetti-Lunn composes at another desk')).toBeVisible();
  await odalys.getByRole('button', { name: 'Take over' }).click();
  await odalys.getByRole('button', { name: 'Take over now' }).click();
  await expect(odalys.getByRole('img', { name: 'The programme’s picture' })).toBeVisible();
  await expect(teo.getByText('Another desk composes this show now.', { exact: false })).toBeVisible();
  await expect(teo.getByText('Odalys Brandt composes at another desk')).toBeVisible();
  const ingrid = await as('Ingrid');
  await ingrid.goto(READY_SHOW);
  await expect(ingrid.getByText('Odalys Brandt composes at another desk')).toBeVisible();
  await expect(ingrid.getByRole('button', { name: 'Take over' })).toHaveCount(0);
  await expect(ingrid.getByText('A host or a producer starts and ends feeds.')).toBeVisible();
});

test('a browser that cannot compose is told so at the door', async ({ browser }) => {
  const context = await browser.newContext();
  await context.addInitScript(() => {
    delete (window as { VideoEncoder?: unknown }).VideoEncoder;
  });
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByRole('button', { name: /Odalys/ }).click();
  await expect(page.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
  await page.goto(READY_SHOW);
  await expect(page.getByRole('alert')).toContainText('This browser cannot compose a programme');
  await expect(page.getByRole('alert')).toContainText('It cannot encode H.264.');
  await expect(page.getByRole('button', { name: 'Compose here' })).toHaveCount(0);
  await context.close();
});

test('the composing desk can be used by everybody, and works by keyboard', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await page.keyboard.press('g');
  await expect(page.getByRole('button', { name: 'Grid', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await page.keyboard.press('n');
  await expect(page.getByRole('button', { name: 'Names' })).toHaveAttribute('aria-pressed', 'false');
  await page.keyboard.press('n');
  await startFeed(page);
  await onAir(page);
  expect(await violations(page)).toEqual([]);
  await endShow(page);
});

test('the public page plays what arrived', async ({ as }) => {
  const page = await as('Teo');
  await composePair(page);
  await startFeed(page);
  await onAir(page);
  const viewer = await page.context().newPage();
  await viewer.goto(`${addresses().emberplay}/millrace/`);
  const video = viewer.getByLabel('The channel’s picture');
  await expect
    .poll(() => video.evaluate((element: HTMLVideoElement) => element.currentTime), { timeout: 30_000 })
    .toBeGreaterThan(1);
  expect(await video.evaluate((element: HTMLVideoElement) => element.videoWidth)).toBe(1280);
  await viewer.close();
  await endShow(page);
  expect(readFileSync((await lastArrival()).packets, 'utf8').split('\n').length).toBeGreaterThan(100);
});

test('a producer adds a destination by address and key, and chooses it for a show', async ({ as }) => {
  const page = await as('Teo');
  await page.goto('/destinations');
  await page.getByRole('button', { name: 'Add by address and key' }).click();
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  for (const field of ['Name', 'Two letters', 'Server address']) {
    await expect(page.getByLabel(field, { exact: true })).toHaveAttribute('aria-invalid', 'true');
  }
  const name = `Tower ${process.pid}.${Date.now()}`;
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByLabel('Two letters').fill('tw');
  // The whole in one field, with the blanks that come with pasting.
  await page.getByLabel('Server address').fill(` ${addresses().emberplayIngest}/not-the-right-key `);
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(page.getByRole('row', { name: new RegExp(name) })).toContainText(addresses().emberplayIngest);
  await expect(page.locator('body')).not.toContainText('not-the-right-key');

  await makeShow(page, newTitle('Tower show'));
  await page.getByRole('checkbox', { name }).check();
  await page.getByRole('link', { name: 'To the desk' }).click();
  await expect(feeds(page).getByText(name)).toBeVisible();
  await page.getByRole('button', { name: 'Compose here' }).click();
  await expect(page.getByText('The relay has the programme.')).toBeVisible();
  await startOnAir(page, `Start the feed to ${name}`, 'Start now');
  await expect(feeds(page)).toContainText('The place refused the stream key.');
  await expect(feeds(page)).toContainText('The place says: “This stream key is not valid.”');
  await page.getByRole('button', { name: 'End show' }).click();
  await page.getByRole('button', { name: 'End everywhere now' }).click();
  await expect(page.getByRole('button', { name: 'End show' })).toHaveCount(0);
});
