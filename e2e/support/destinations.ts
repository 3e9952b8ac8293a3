import type { Page } from '@playwright/test';
import { expect } from './house';

/** The school's second account at Kitefield, and its channel as a destination. */
export const TRADE = 'Kitefield, For trade bakers';

const rowOf = (page: Page, name: string) => page.getByRole('row', { name: new RegExp(name) });

/** On the page of destinations: adds a placement of an account that is connected, unless it is there. */
export async function addPlacement(
  page: Page,
  account: RegExp,
  placement: string,
  name: string,
): Promise<void> {
  await expect(rowOf(page, 'Guildroad, the school')).toBeVisible();
  if ((await rowOf(page, name).count()) > 0) return;
  await page.getByRole('button', { name: account }).click();
  await page.getByRole('button', { name: `Add ${placement} as a destination` }).click();
  await expect(rowOf(page, name)).toBeVisible();
  // Closes what was opened.
  await page.reload();
}

/** On the page of destinations: connects the second account, unless it is, and adds its channel. */
export async function connectTrade(page: Page): Promise<void> {
  await expect(rowOf(page, 'Guildroad, the school')).toBeVisible();
  if ((await rowOf(page, TRADE).count()) > 0) return;
  await page.getByRole('button', { name: 'Connect at Kitefield' }).click();
  // By role: until the place's page is there, a tile of ours bears the same name.
  await page.getByRole('radio', { name: 'Millrace for trade bakers' }).check();
  await page.getByRole('button', { name: 'Let it in' }).click();
  await page.getByRole('button', { name: 'Add For trade bakers as a destination' }).click();
  await expect(rowOf(page, TRADE)).toBeVisible();
  await page.reload();
}
