import { readFileSync } from 'node:fs';
import path from 'node:path';
import { test as base, expect, type Browser, type Page } from '@playwright/test';

export { expect };

export type Seat = 'Odalys' | 'Teo' | 'Ingrid';
/** What each of the demo's team is. */
export const ROLE_OF: Record<Seat, string> = { Odalys: 'host', Teo: 'producer', Ingrid: 'moderator' };

/** Opens a browser of its own for somebody of the team and signs them in. */
export async function signIn(browser: Browser, seat: Seat): Promise<Page> {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByRole('button', { name: new RegExp(seat) }).click();
  await expect(page.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
  return page;
}

/** `as('Teo')` gives Teo's browser; all are closed at the end of the test. */
export const test = base.extend<{ as: (seat: Seat) => Promise<Page> }>({
  as: async ({ browser }, use) => {
    const pages: Page[] = [];
    await use(async (seat) => {
      const page = await signIn(browser, seat);
      pages.push(page);
      return page;
    });
    for (const page of pages) await page.context().close();
  },
});

const dataDir = () => process.env['JUNCTA_E2E_DATA']!;

export interface Addresses {
  readonly server: string;
  readonly relay: string;
  readonly clock: string;
  readonly emberplay: string;
  readonly kitefield: string;
  readonly porchway: string;
  readonly guildroad: string;
  readonly emberplayIngest: string;
}
export const addresses = (dir = dataDir()): Addresses =>
  JSON.parse(readFileSync(path.join(dir, 'addresses.json'), 'utf8')) as Addresses;

/** The pid of one of the house's processes, as it runs now. */
export function pidOf(name: string): number {
  const record = JSON.parse(readFileSync(path.join(dataDir(), 'running.json'), 'utf8')) as {
    children: { pid: number; name: string }[];
  };
  const found = record.children.filter((child) => child.name === name).at(-1);
  if (!found) throw new Error(`no process ${name} runs`);
  return found.pid;
}

let made = 0;
/** A title that no other test has used. */
export const newTitle = (words: string): string => `${words} ${process.pid}.${++made}`;

/** Makes a show through the form, with what is in it at first, and stays on its page. */
export async function makeShow(page: Page, title: string): Promise<void> {
  await page.goto('/shows/new');
  await page.getByLabel('Title', { exact: true }).fill(title);
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
  await expect(page).toHaveURL(/\/shows\/[0-9a-f-]{36}$/);
}

export async function save(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Save', exact: false }).last().click();
}
