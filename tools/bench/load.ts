import { chromium, type Browser, type Page } from '@playwright/test';
import { mkdirSync, rmSync } from 'node:fs';
import path from 'node:path';
import { buildAll, ROOT } from '../build/main';
import { freePort } from '../machine/ports';
import { startHouse, type House } from '../test/house';
import type { Bench } from './bench';

const RUNS = 5;
const READY_SHOW = '/desk/c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f01';

/** What a newcomer waits for: the start command the second time, and the first pages in an empty browser. */
export const load: Bench = {
  about: 'compressed JavaScript of the first view and the desk, time to a usable list, second start',
  async run() {
    await buildAll(false, (text) => console.error(text));
    const dir = path.join(ROOT, '.test', 'bench-load');
    rmSync(dir, { recursive: true, force: true });
    mkdirSync(dir, { recursive: true });
    const port = await freePort();
    const first = await startHouse(port, dir);
    await first.stop();
    const house = await startHouse(port, dir);
    const browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
    });
    try {
      const usable: number[] = [];
      for (let i = 0; i < RUNS; i++) usable.push(await timeToUsableList(browser, house));
      usable.sort((a, b) => a - b);
      return {
        first_view_js_kb: await compressedScripts(browser, house, '/shows', showsAreUsable),
        desk_js_kb: await compressedScripts(browser, house, READY_SHOW, deskIsUsable),
        list_usable_ms_median: usable[Math.floor(RUNS / 2)]!,
        list_usable_ms_max: usable.at(-1)!,
        list_usable_runs: RUNS,
        first_start_with_empty_data_s: first.readyAfterMs / 1000,
        second_start_s: house.readyAfterMs / 1000,
      };
    } finally {
      await browser.close();
      await house.stop();
      rmSync(dir, { recursive: true, force: true });
    }
  },
};

const showsAreUsable = (page: Page) =>
  page
    .getByRole('row', { name: /A miller’s first hour/ })
    .getByRole('button')
    .waitFor();
const deskIsUsable = (page: Page) => page.getByRole('heading', { name: 'Programme' }).waitFor();

/** A signed-in browser with nothing in its cache. */
async function freshPage(browser: Browser, house: House): Promise<Page> {
  const context = await browser.newContext({ baseURL: house.url, viewport: { width: 1280, height: 800 } });
  const { accounts } = (await (await context.request.get('/api/session/demo')).json()) as {
    accounts: { id: string; role: string }[];
  };
  const host = accounts.find(({ role }) => role === 'host')!;
  await context.request.post('/api/session/demo', { data: { memberId: host.id } });
  return context.newPage();
}

/** From the moment the address is entered until a show can be chosen. */
async function timeToUsableList(browser: Browser, house: House): Promise<number> {
  const page = await freshPage(browser, house);
  const startedAt = performance.now();
  await page.goto('/shows', { waitUntil: 'commit' });
  await showsAreUsable(page);
  const took = performance.now() - startedAt;
  await page.context().close();
  return Math.round(took);
}

/** Kilobytes (1,000) of JavaScript as they came over the network, until the view can be used and all is quiet. */
async function compressedScripts(
  browser: Browser,
  house: House,
  view: string,
  usable: (page: Page) => Promise<void>,
): Promise<number> {
  const page = await freshPage(browser, house);
  await page.goto(view);
  await usable(page);
  await page.waitForLoadState('networkidle');
  const bytes = await page.evaluate(() =>
    (performance.getEntriesByType('resource') as PerformanceResourceTiming[])
      .filter(({ name }) => new URL(name).pathname.endsWith('.js'))
      .reduce((sum, { encodedBodySize }) => sum + encodedBodySize, 0),
  );
  await page.context().close();
  return Math.round(bytes / 100) / 10;
}
