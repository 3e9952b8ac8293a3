import { randomUUID } from 'node:crypto';
import type { APIRequestContext, Browser, Page, PlaywrightWorkerArgs } from '@playwright/test';
import { expect } from './house';

/** The demo's show that is ready to go on air, and its people. */
export const READY_SHOW_ID = 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f01';
export const READY_SHOW = `/desk/${READY_SHOW_ID}`;
export const ODALYS = 'Odalys Brandt';
export const PASCOE = 'Pascoe Trethewey';

interface Producer {
  house: APIRequestContext;
  post: (path: string, data?: object) => Promise<void>;
  /** The answer’s status. */
  order: (path: string, data?: object, method?: 'post' | 'put' | 'delete') => Promise<number>;
}

/** A producer's requests without a page. */
async function producer(playwright: PlaywrightWorkerArgs['playwright'], baseURL: string): Promise<Producer> {
  const house = await playwright.request.newContext({ baseURL });
  const demo = await house.get('/api/session/demo');
  const { accounts } = (await demo.json()) as { accounts: { id: string; role: string }[] };
  const memberId = accounts.find(({ role }) => role === 'producer')!.id;
  await house.post('/api/session/demo', { data: { memberId } });
  const { cookies } = await house.storageState();
  const csrf = cookies.find(({ name }) => name === 'juncta_csrf')!.value;
  const order = async (path: string, data: object = {}, method: 'post' | 'put' | 'delete' = 'post') =>
    (await house[method](path, { data, headers: { 'x-juncta-csrf': csrf } })).status();
  return { house, order, post: async (path, data) => expect(await order(path, data)).toBeLessThan(300) };
}

/** The same for the while of one act. */
export async function withProducer(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
  act: (producer: Producer) => Promise<void>,
): Promise<void> {
  const one = await producer(playwright, baseURL);
  await act(one);
  await one.house.dispose();
}

/** Leaves the house as the next test wants to find it: without a page, while the test's own may still compose. */
export async function endReadyShow(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
): Promise<void> {
  const { house, post, order } = await producer(playwright, baseURL);
  // There is one only where a test of it failed.
  await order(`/api/shows/${READY_SHOW_ID}/drill/end`);
  await post(`/api/shows/${READY_SHOW_ID}/end`);
  await post(`/api/shows/${READY_SHOW_ID}/chat/close`);
  await order(`/api/shows/${READY_SHOW_ID}/picture-format`, { pictureFormat: '720p30' }, 'put');
  const changes = [
    { type: 'clear' },
    { type: 'scene', event: { type: 'layout', layout: 'auto' } },
    { type: 'scene', event: { type: 'names', on: true } },
  ].map((change) => ({ id: randomUUID(), change }));
  await post(`/api/shows/${READY_SHOW_ID}/stage`, { changes });
  // Planned again, as the next test expects it; places may still be ending their events.
  await expect.poll(() => order(`/api/shows/${READY_SHOW_ID}/put-back`), { timeout: 20_000 }).toBe(200);
  await house.dispose();
}

/** There is no overlay page for all shows, as at first. */
export async function dropOverlayPage(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
): Promise<void> {
  const { house, order } = await producer(playwright, baseURL);
  expect(await order('/api/overlay-pages/team', {}, 'delete')).toBe(200);
  await house.dispose();
}

/** The show that is ready has no inputs, as at first, and nothing sends to any. */
export async function dropInputs(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
): Promise<void> {
  const { house, order } = await producer(playwright, baseURL);
  const of = `/api/shows/${READY_SHOW_ID}`;
  await order(`${of}/programme-input`, { inputId: null }, 'put');
  type Ids = { id: string }[];
  const read = async () => (await (await house.get(`${of}/inputs`)).json()) as { inputs: Ids; standing: Ids };
  for (const { id } of (await read()).standing)
    expect(await order(`${of}/inputs/${id}/booking`, { isBooked: true }, 'put')).toBe(200);
  const { inputs } = await read();
  for (const { id } of inputs) expect(await order(`${of}/inputs/${id}`, {}, 'delete')).toBe(200);
  await house.dispose();
}

/** There are no layouts of the team's own, as at first. */
export async function dropLayouts(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
): Promise<void> {
  const { house, order } = await producer(playwright, baseURL);
  const { layouts } = (await (await house.get('/api/layouts')).json()) as {
    layouts: { layout: { id: string } }[];
  };
  for (const { layout } of layouts) expect(await order(`/api/layouts/${layout.id}`, {}, 'delete')).toBe(200);
  await house.dispose();
}

interface KeptDressing {
  readonly scope: string;
  readonly dressing: object;
}

/** The dressing of a series as it is, to be put back. */
export async function dressingOf(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
  series: string,
): Promise<KeptDressing> {
  const { house } = await producer(playwright, baseURL);
  const shows = (await (await house.get('/api/shows')).json()) as { series: { id: string; name: string }[] };
  const scope = shows.series.find(({ name }) => name === series)!.id;
  const { dressing } = await savedDressing(house, scope);
  await house.dispose();
  return { scope, dressing };
}

export async function dressAs(
  playwright: PlaywrightWorkerArgs['playwright'],
  baseURL: string,
  { scope, dressing }: KeptDressing,
): Promise<void> {
  const { house, order } = await producer(playwright, baseURL);
  const { version } = await savedDressing(house, scope);
  expect(await order(`/api/dressings/${scope}`, { version, dressing }, 'put')).toBe(200);
  await house.dispose();
}

async function savedDressing(house: APIRequestContext, scope: string) {
  const all = (await (await house.get('/api/dressings')).json()) as {
    bySeries: Record<string, { version: string; dressing: object }>;
  };
  return all.bySeries[scope]!;
}

/** Adds a test pattern for somebody, as whoever composes would. */
export async function addPattern(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Sources' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sources of this desk' });
  await dialog.getByLabel('Whose').selectOption({ label: name });
  await dialog.getByRole('button', { name: 'Add test pattern' }).click();
  await expect(dialog.getByRole('button', { name: `Remove Camera of ${name}` })).toBeVisible();
  await dialog.getByRole('button', { name: 'Close' }).click();
}

/** Opens the programme at the desk with the host's test pattern on it. */
export async function composeHost(page: Page): Promise<void> {
  await page.goto(READY_SHOW);
  await page.getByRole('button', { name: 'Compose here' }).click();
  await addPattern(page, ODALYS);
  await page.getByRole('button', { name: `Bring on ${ODALYS}` }).click();
  await expect(page.getByText('The relay has the programme.')).toBeVisible();
}

export async function pressTwice(page: Page, name: string | RegExp, armed: string): Promise<void> {
  await page.getByRole('button', { name }).click();
  await page.getByRole('button', { name: armed }).click();
}

/**
 * Starts a feed, or all of them, from the keys of the board: also of a show that is over, or that would begin further
 * from its plan than a quarter of an hour and is asked for then.
 */
export async function startOnAir(page: Page, name: string | RegExp, armed: string): Promise<void> {
  const key = page.getByRole('button', { name });
  const airAgain = page.getByRole('button', { name: 'Go on air again…' });
  await expect(key.or(airAgain)).toBeVisible();
  if (await airAgain.isVisible()) await airAgain.click();
  await key.click();
  const secondPress = page.getByRole('button', { name: armed });
  const offPlan = page.getByRole('button', { name: 'Go on air now' });
  await expect(secondPress.or(offPlan)).toBeVisible();
  await secondPress.or(offPlan).click();
}

export const feeds = (page: Page) => page.getByRole('region', { name: 'Feeds' });

/** Makes the personal link of the show's guest in the plan, as a producer would. */
export async function makeLink(page: Page): Promise<string> {
  await page.goto(`/shows/${READY_SHOW_ID}`);
  const make = page.getByRole('button', { name: /link for Pascoe/ });
  await make.click();
  const armed = page.getByRole('button', { name: 'Ends the old one. Press again' });
  const field = page.getByRole('textbox', { name: 'Link of Pascoe Trethewey' });
  await expect(armed.or(field)).toBeVisible();
  if (await armed.isVisible()) await armed.click();
  return field.inputValue();
}

/** A guest with a browser of their own, who goes in with the test picture. */
export async function guestGoesIn(browser: Browser, link: string): Promise<Page> {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto(link);
  await page.getByRole('button', { name: 'Use a test picture instead' }).click();
  await page.getByRole('button', { name: 'Go in' }).click();
  await expect(page.getByText('In the wings', { exact: true })).toBeVisible();
  return page;
}

export const messages = (page: Page) => page.getByRole('list', { name: 'Messages, in the order of writing' });
