import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Page } from '@playwright/test';
import { buildAll, ROOT } from '../build/main';
import { Failure } from '../machine/failure';
import { freePort } from '../machine/ports';
import { pause } from '../machine/processes';
import { startTestCluster } from '../test/cluster';
import { startHouse } from '../test/house';
import { compose, openDeskBrowser, quantile, round } from './desk-browser';
import type { Bench, Figures } from './bench';
import { benchOfPart } from './part';
import { startNow } from './start-now';

const SHOW = 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f01';
const PER_S = Number(process.env['JUNCTA_BENCH_SCREEN_PER_S'] ?? 2000);
/** So that the show holds 300,000 in the end. */
const STRETCHES = 3;
const STRETCH_S = Number(process.env['JUNCTA_BENCH_SCREEN_SECONDS'] ?? 50);

/** Messages from the places into the database, and on to the screen, up to 300,000 in one show. */
export const chat: Bench = {
  about:
    '5,000 messages a second from four unreliable places into the database, beside bare parsing and inserting; 2,000 a second on to the screen, until a show holds 300,000',
  async run() {
    await buildAll(false, (text) => console.error(text));
    const kept = await intoDatabase();
    console.error(JSON.stringify(kept));
    return { ...kept, ...(await onToScreen()) };
  },
};

async function intoDatabase(): Promise<Figures> {
  const cluster = await startTestCluster(path.join(ROOT, '.test', 'bench-chat'));
  try {
    return await benchOfPart('server/src/bench/chat-bench.ts', { JUNCTA_TEST_DATABASE_URL: cluster.url });
  } finally {
    await cluster.stop();
  }
}

/**
 * What the page has drawn, looked at whenever it draws: each message of the flood has its number in it, and with that
 * the instant at which its place wrote it.
 */
const WATCH = (perS: number, seconds: number, startedMs: number) => `new Promise((done) => {
  const [behind, frames] = [[], []];
  const list = document.querySelector('[aria-label="Messages, in the order of writing"]');
  const look = (at) => {
    frames.push(at);
    const texts = list.querySelectorAll('.text');
    const number = Number(/ no (\\d+),/.exec(texts[texts.length - 1]?.textContent ?? '')?.[1] ?? NaN);
    const written = ${startedMs} + (number / ${perS}) * 1000;
    if (Date.now() > ${startedMs} + 3000 && number < ${perS * seconds} - 1) behind.push(Date.now() - written);
    if (Date.now() > ${startedMs} + ${seconds * 1000}) done({ behind, frames });
    else requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
})`;

async function onToScreen(): Promise<Figures> {
  const dir = path.join(ROOT, '.test', 'bench-chat-screen');
  rmSync(dir, { recursive: true, force: true });
  mkdirSync(dir, { recursive: true });
  const house = await startHouse(await freePort(), dir);
  const figures: Record<string, number> = {};
  try {
    const { emberplay } = JSON.parse(readFileSync(path.join(dir, 'addresses.json'), 'utf8')) as {
      emberplay: string;
    };
    const browser = await openDeskBrowser(house);
    try {
      const desk = browser.page;
      await openChat(desk, () => compose(desk, house, SHOW, ['Odalys Brandt'], 'Alone'));
      const page = await desk.context().newPage();
      await desk.close();
      await page.goto(`${house.url}/chat/${SHOW}`);
      await page.getByRole('heading', { name: 'Viewers’ messages' }).waitFor();
      await pause(2000);
      for (let stretch = 1; stretch <= STRETCHES; stretch++) {
        const startedMs = Date.now();
        const flooding = fetch(`${emberplay}/console/chat/flood`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ kind: 'talk', per_s: PER_S, seconds: STRETCH_S, writers: 4000 }),
        });
        const { behind, frames } = await page.evaluate<{ behind: number[]; frames: number[] }>(
          WATCH(PER_S, STRETCH_S, startedMs),
        );
        if (!(await flooding).ok) throw new Failure('The place did not write.');
        Object.assign(figures, named(stretch, behind, frames));
        await pause(3000);
      }
      figures['messages_in_show'] = PER_S * STRETCH_S * STRETCHES;
      const openedMs = performance.now();
      await page.reload();
      await page
        .getByRole('list', { name: 'Messages, in the order of writing' })
        .getByRole('listitem')
        .nth(20)
        .waitFor();
      figures['opened_with_all_ms'] = round(performance.now() - openedMs, 0);
    } finally {
      await browser.close();
    }
    return figures;
  } finally {
    await house.stop();
    rmSync(dir, { recursive: true, force: true });
  }
}

/** A chat opens with the first feed to its place; the picture is not needed afterwards. */
async function openChat(page: Page, composed: () => Promise<void>): Promise<void> {
  await composed();
  await page.getByRole('button', { name: 'Start the feed to Emberplay, the school’s channel' }).click();
  await startNow(page);
  await page.getByText('Seen from outside.').waitFor();
}

function named(stretch: number, behind: number[], frames: number[]): Figures {
  const sorted = [...behind].sort((a, b) => a - b);
  const gaps = frames
    .slice(1)
    .map((at, i) => at - frames[i]!)
    .sort((a, b) => a - b);
  const figures = {
    [`stretch_${stretch}_behind_p50_ms`]: round(quantile(sorted, 0.5), 0),
    [`stretch_${stretch}_behind_p99_ms`]: round(quantile(sorted, 0.99), 0),
    [`stretch_${stretch}_frames_per_s`]: round((gaps.length * 1000) / (frames.at(-1)! - frames[0]!)),
    [`stretch_${stretch}_frame_p99_ms`]: round(quantile(gaps, 0.99), 0),
  };
  console.error(JSON.stringify(figures));
  return figures;
}
