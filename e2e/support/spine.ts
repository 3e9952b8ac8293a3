import type { Page, PlaywrightWorkerArgs } from '@playwright/test';
import { addPattern, endReadyShow, feeds, ODALYS, PASCOE, READY_SHOW, startOnAir } from './desk';
import { expect } from './house';
import { lastArrival, setCategory, setFaults } from './place';

/** Composes with two test patterns side by side. */
export async function composePair(page: Page): Promise<void> {
  await page.goto(READY_SHOW);
  await page.getByRole('button', { name: 'Compose here' }).click();
  for (const name of [ODALYS, PASCOE]) {
    await addPattern(page, name);
    await page.getByRole('button', { name: `Bring on ${name}` }).click();
  }
  await page.getByRole('button', { name: 'Pair' }).click();
  await expect(page.getByText('The relay has the programme.')).toBeVisible();
}

export async function startFeed(page: Page): Promise<void> {
  await startOnAir(page, /Start the feed to Emberplay/, 'Start now');
}

export async function endShow(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'End show' }).click();
  await page.getByRole('button', { name: 'End everywhere now' }).click();
  // An earlier feed may say that it has ended while this show goes on: nobody takes the order before the server is back.
  await expect(page.getByRole('button', { name: 'End show' })).toBeHidden();
  await expect(page.getByText('Ended here.').first()).toBeVisible();
}

/** Waits until the files of the run that has just ended are made: the newest are the first in the list. */
export async function recordingsAreReady(page: Page): Promise<void> {
  for (const word of ['recording', 'the file is being made']) {
    await expect(page.getByText(word, { exact: true })).toHaveCount(0, { timeout: 40_000 });
  }
}

export const onAir = (page: Page) =>
  expect(feeds(page).getByText('Seen from outside.')).toBeVisible({ timeout: 20_000 });
/** How many have come in over there. */
export const pictures = async () => (await lastArrival()).health.pictures;

/** The place as it was, and the house as the next test wants to find it. */
export async function endSpine(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
): Promise<void> {
  await setFaults({});
  await setCategory('Food and drink');
  await endReadyShow(playwright, baseURL);
}
