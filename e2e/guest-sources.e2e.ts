import { violations } from './support/axe';
import { composeHost, endReadyShow, makeLink, PASCOE } from './support/desk';
import { expect, test } from './support/house';
import { spotsNow } from './support/media';
import { lastArrival } from './support/place';
import { LAUNCH_WITH_TWO_CAMERAS, plugIn, stopSharing, unplug, withPlugs } from './support/plugs';
import { endShow, onAir, startFeed } from './support/spine';

/** What a guest puts into the picture from their own computer, and what the desk may ask of them. */
test.use({ launchOptions: LAUNCH_WITH_TWO_CAMERAS });
test.describe.configure({ timeout: 300_000 });

test.afterEach(({ playwright, baseURL }) => endReadyShow(playwright, baseURL!));

const SCREEN = `Screen of ${PASCOE}`;
/** Within the screen that is shown large, and within its last person beside it: at the edge, where no initials are. */
const ON_SCREEN = [120, 480] as const;
const BESIDE = [1215, 395] as const;
/** Above the screen, and nowhere in a pair. */
const ABOVE = [300, 60] as const;

type Spot = readonly number[];
const isHost = ([r, g, b]: Spot) =>
  Math.abs(r! - 46) < 12 && Math.abs(g! - 93) < 12 && Math.abs(b! - 137) < 12;
const isCamera = ([r, g, b]: readonly number[]) => g! > 110 && r! < 40 && b! < 40;
const isBackdrop = ([r, g, b]: readonly number[]) => r! > 30 && r! < 95 && r! > g! + 8 && g! > b!;
const isMissing = ([r, g, b]: readonly number[]) =>
  Math.abs(r! - 27) < 8 && Math.abs(g! - 33) < 8 && Math.abs(b! - 29) < 8;

test('a guest’s screen is offered, accepted and shown; what they turn off is asked for, and what is lost comes back', async ({
  as,
  browser,
}) => {
  const teo = await as('Teo');
  const link = await makeLink(teo);
  const pascoe = await (await browser.newContext({ viewport: { width: 800, height: 600 } })).newPage();
  await withPlugs(pascoe);
  await pascoe.goto(link);
  await pascoe.getByRole('button', { name: 'Try camera and microphone' }).click();
  await pascoe.getByRole('button', { name: 'Go in' }).click();
  await expect(pascoe.getByText('In the wings', { exact: true })).toBeVisible();
  await composeHost(teo);
  await teo.getByRole('button', { name: `Bring on ${PASCOE}` }).click();
  const stage = teo.getByRole('region', { name: 'Stage' });
  await expect(pascoe.getByText('On stage', { exact: true })).toBeVisible();

  // Offered: nobody sees it before somebody at the desk wants it.
  await pascoe.getByRole('button', { name: 'Share a screen…' }).click();
  await expect(pascoe.getByText('Nobody sees it yet.')).toBeVisible();
  const accept = teo.getByRole('button', { name: `Accept ${SCREEN}` });
  await expect(accept).toBeVisible();
  expect(await violations(teo)).toEqual([]);
  expect(await violations(pascoe)).toEqual([]);

  // Nobody's microphone is opened from elsewhere: the desk asks, and the guest does it.
  await pascoe.getByRole('button', { name: 'Sound on' }).click();
  await stage.getByRole('button', { name: `Ask ${PASCOE} to turn their sound on` }).click();
  await expect(stage.getByText('They are asked to turn it on.')).toBeVisible();
  await expect(pascoe.getByText('The team asks you to turn your sound on.')).toBeVisible();
  expect(await violations(pascoe)).toEqual([]);
  await pascoe.getByRole('button', { name: 'Turn sound on' }).click();
  await expect(pascoe.getByRole('button', { name: 'Sound on' })).toBeVisible();
  await expect(stage.getByText('Their sound is off')).toHaveCount(0);

  await startFeed(teo);
  await onAir(teo);
  await expect(pascoe.getByText('Viewers see and hear you now.')).toBeVisible();
  /** What viewers see, once it has come to them: one machine does everybody's work here, and takes its time. */
  const isSeen = (holds: (above: Spot, screen: Spot, beside: Spot) => boolean) =>
    expect
      .poll(
        async () => {
          const { received } = await lastArrival();
          const [above, screen, beside] = spotsNow(received, ABOVE, ON_SCREEN, BESIDE);
          return holds(above!, screen!, beside!);
        },
        { timeout: 60_000, intervals: [1000] },
      )
      .toBe(true);
  const isPair = (above: Spot, screen: Spot, beside: Spot) =>
    isHost(above) && isHost(screen) && isCamera(beside);
  const isShared = (above: Spot, screen: Spot) => isBackdrop(above) && isCamera(screen);

  await isSeen(isPair);
  await accept.click();
  await expect(pascoe.getByText('The team sees it. Viewers do not.')).toBeVisible();
  await teo.getByRole('button', { name: `Bring on ${SCREEN}` }).click();
  await expect(pascoe.getByText('Viewers see it now.')).toBeVisible();
  await isSeen((above, screen, beside) => isShared(above, screen) && isCamera(beside));

  // What the desk turns off, the guest is told.
  await teo.getByRole('button', { name: `Adjust ${PASCOE}` }).click();
  const panel = teo.getByRole('dialog', { name: `Adjust ${PASCOE}` });
  await panel.getByRole('button', { name: 'Sound off' }).click();
  await expect(pascoe.getByText('The team has turned your sound off')).toBeVisible();
  await panel.getByRole('button', { name: 'Sound off' }).click();
  await expect(pascoe.getByText('The team has turned your sound off')).toHaveCount(0);
  await panel.getByRole('button', { name: 'Close' }).click();

  // Their own picture off: initials stand in its place, and not a black field.
  await pascoe.getByRole('button', { name: 'Picture on' }).click();
  await expect(pascoe.getByText('Viewers hear you now. They do not see your picture.')).toBeVisible();
  await expect(stage.getByText('Guest, here, picture off')).toBeVisible();
  await isSeen((above, screen, beside) => isShared(above, screen) && isMissing(beside));
  await pascoe.getByRole('button', { name: 'Picture off' }).click();
  await expect(stage.getByText('Guest, here by link')).toBeVisible();

  // A camera is pulled out: another that is left shows, both are told, and it is taken back.
  await unplug(pascoe);
  const replaced = stage.getByText('The camera is gone; another one shows until it is back.');
  await expect(replaced).toBeVisible();
  await expect(pascoe.getByText('Your camera is gone; another one shows until it is back.')).toBeVisible();
  await plugIn(pascoe);
  await expect(replaced).toBeHidden();
  await isSeen((above, screen, beside) => isShared(above, screen) && isCamera(beside));

  // A second camera, which nobody needs.
  await pascoe.getByRole('button', { name: 'Also show fake_device_1' }).click();
  await teo.getByRole('button', { name: `Decline Camera of ${PASCOE}, no. 2` }).click();
  await expect(pascoe.getByText('The team does not need what you shared.')).toBeVisible();
  await expect(teo.getByText(`Camera of ${PASCOE}, no. 2`)).toHaveCount(0);

  // Ended in the guest's own browser: nobody looks at an empty screen.
  await stopSharing(pascoe);
  await expect(teo.getByText(SCREEN)).toHaveCount(0);
  await isSeen(isPair);
  await endShow(teo);
  await expect(pascoe.getByText('In the wings', { exact: true })).toBeVisible();
});
