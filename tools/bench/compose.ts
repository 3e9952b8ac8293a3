import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { buildAll, ROOT } from '../build/main';
import { freePort } from '../machine/ports';
import { startHouse, type House } from '../test/house';
import { compose as composeShow, makeShow, openDeskBrowser, round, type DeskBrowser } from './desk-browser';
import { Failure } from '../machine/failure';
import { pause } from '../machine/processes';
import type { Bench, Figures } from './bench';

const SECONDS = Number(process.env['JUNCTA_BENCH_SECONDS'] ?? 60);
const SOURCES = [2, 4, 6];
/** Which of them are measured, by a comma each; missing: all. */
const SCENES = (
  process.env['JUNCTA_BENCH_SCENES'] ?? 'made,graphics,grain,screen,drift,overlays,guests'
).split(',');
/** All the made-up guests there are; they come through the media server as any guest does. */
const GUESTS = [2, 4];

interface Pace {
  readonly framesPerS: number;
  readonly p50Ms: number;
  readonly p99Ms: number;
  readonly made: number;
  readonly dropped: number;
}

/** How well the programme is composed, with the page shown and hidden, and everything on one machine. */
export const compose: Bench = {
  about: `frames a second, their intervals and the dropped ones, shown and hidden, with ${SOURCES.join(', ')} made sources, with six under a ticker, clock and score board, plain, as grainy as cameras, as grainy beside a screen, before slow light and under overlays that move, and with ${GUESTS.join(' and ')} guests through the media server`,
  async run() {
    await buildAll(false, (text) => console.error(text));
    const dir = path.join(ROOT, '.test', 'bench-compose');
    rmSync(dir, { recursive: true, force: true });
    mkdirSync(dir, { recursive: true });
    const house = await startHouse(await freePort(), dir);
    const figures: Record<string, number | string> = { seconds_each: SECONDS };
    try {
      for (const sources of SCENES.includes('made') ? SOURCES : []) {
        const set = await measureBoth(house, ({ page }) => composeMade(page, house, sources));
        Object.assign(figures, named(`shown_${sources}`, set.shown), named(`hidden_${sources}`, set.hidden));
      }
      for (const scene of ['graphics', 'grain', 'screen', 'drift', 'overlays'].filter((one) =>
        SCENES.includes(one),
      )) {
        const set = await measureBoth(house, async ({ page }) => {
          if (scene === 'drift') await dress(page, { backdrop: 'drift' });
          if (scene === 'overlays') await dress(page, { overlays: await makeOverlays(page, dir) });
          await composeMade(page, house, 6, scene === 'grain' || scene === 'screen');
          if (scene === 'screen') await shareScreen(page);
          await showGraphics(page, scene === 'overlays' ? ['frame', 'motion'] : []);
        });
        const [shown, hidden] = [`${scene}_shown_6`, `${scene}_hidden_6`];
        Object.assign(figures, named(shown, set.shown), named(hidden, set.hidden));
      }
      for (const guests of SCENES.includes('guests') ? GUESTS : []) {
        const set = await measureBoth(
          house,
          async ({ page }) => {
            await composeShow(page, house, await makeShow(page, 1), [], 'Grid');
            await bringInGuests(page, guests);
          },
          sendGuestsAway,
        );
        const [shown, hidden] = [`guests_shown_${guests}`, `guests_hidden_${guests}`];
        Object.assign(figures, named(shown, set.shown), named(hidden, set.hidden));
      }
      return figures;
    } finally {
      await house.stop();
      rmSync(dir, { recursive: true, force: true });
    }
  },
};

async function composeMade(
  page: DeskBrowser['page'],
  house: House,
  sources: number,
  isGrainy = false,
): Promise<void> {
  const showId = await makeShow(page, sources);
  const names = Array.from({ length: sources }, (_, i) => `Guest ${i + 1}`);
  await composeShow(page, house, showId, names, sources === 2 ? 'Pair' : 'Grid', isGrainy);
}

/** This computer's screen, large, with everybody beside it. */
async function shareScreen(page: DeskBrowser['page']): Promise<void> {
  await page.getByRole('button', { name: 'Sources' }).click();
  const dialog = page.getByRole('dialog', { name: 'Sources of this desk' });
  await dialog.getByRole('button', { name: 'Share a screen…' }).click();
  await dialog.getByText(/^Screen of /).waitFor();
  await dialog.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: /^Bring on Screen of / }).click();
  await page.getByRole('button', { name: 'Column', exact: true }).click();
}

/** All that moves over the picture. */
async function showGraphics(page: DeskBrowser['page'], overlays: readonly string[]): Promise<void> {
  await page.getByRole('button', { name: 'Graphics' }).click();
  const panel = page.getByRole('dialog', { name: 'Graphics' });
  await panel.getByRole('textbox').first().fill('A line that runs\nAnd another one after it');
  for (const name of ['Ticker', 'Score board', 'Clock', 'Chat in the picture', ...overlays])
    await panel.getByRole('button', { name: `Show: ${name}` }).click();
}

/** Another dressing for all shows than before. */
async function dress(page: DeskBrowser['page'], values: object): Promise<void> {
  await page.evaluate(async (changes) => {
    const csrf = /juncta_csrf=([^;]+)/.exec(document.cookie)?.[1] ?? '';
    const { team } = (await (await fetch('/api/dressings')).json()) as {
      team: { version: string; dressing: object };
    };
    const saved = await fetch('/api/dressings/team', {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json', 'X-Juncta-Csrf': csrf },
      body: JSON.stringify({ version: team.version, dressing: { ...team.dressing, ...changes } }),
    });
    if (!saved.ok) throw new Error(await saved.text());
  }, values);
}

/** A frame that stands around the picture, and a bar that runs across all of it. */
async function makeOverlays(page: DeskBrowser['page'], dir: string): Promise<object[]> {
  const motion = path.join(dir, 'motion.webm');
  const input = (source: string) => ['-f', 'lavfi', '-i', `${source}:r=30:d=4,format=rgba`];
  const over = "[0][1]overlay=x='-200+400*t':y=0:format=auto,format=yuva420p";
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-y', ...input('color=c=black@0.0:s=1280x720')],
    ...[...input('color=c=orange@0.8:s=200x720'), '-filter_complex', over],
    ...['-c:v', 'libvpx-vp9', '-auto-alt-ref', '0', motion],
  ]);
  const frame =
    '<svg xmlns="http://www.w3.org/2000/svg" width="1280" height="720"><rect x="20" y="20" width="1240" height="680" fill="none" stroke="orange" stroke-width="6"/></svg>';
  const files = { frame: Buffer.from(frame), motion: readFileSync(motion) };
  const overlays = [];
  for (const [name, bytes] of Object.entries(files)) {
    const image = await page.evaluate(async (base64) => {
      const csrf = /juncta_csrf=([^;]+)/.exec(document.cookie)?.[1] ?? '';
      const sent = await fetch('/api/dressing-images?for=overlay', {
        method: 'PUT',
        headers: { 'Content-Type': 'application/octet-stream', 'X-Juncta-Csrf': csrf },
        body: Uint8Array.from(atob(base64), (sign) => sign.charCodeAt(0)),
      });
      if (!sent.ok) throw new Error(await sent.text());
      return (await sent.json()) as object;
    }, bytes.toString('base64'));
    const stands = { place: 'whole', width: 1, opacity: 1, repeats: true };
    overlays.push({ id: randomUUID(), name, image, ...stands });
  }
  return overlays;
}

/** The same set-up first with the page shown, then with another tab before it. */
async function measureBoth(
  house: House,
  setUp: (browser: DeskBrowser) => Promise<void>,
  clearUp?: (browser: DeskBrowser) => Promise<void>,
) {
  const browser = await openDeskBrowser(house);
  try {
    await setUp(browser);
    await browser.release();
    await pause(5000);
    const shown = await measure(browser, SECONDS);
    await browser.hide();
    const hidden = await measure(browser, SECONDS);
    if (!(await browser.evaluate<boolean>('document.hidden'))) throw new Failure('The page was not hidden.');
    await clearUp?.(browser);
    return { shown, hidden };
  } finally {
    await browser.close();
  }
}

/** Sends in made-up guests and brings each on. */
async function bringInGuests(page: DeskBrowser['page'], count: number): Promise<void> {
  const bringOn = page.getByRole('button', { name: /^Bring on (?!Guest 1)/ });
  for (let i = 0; i < count; i++) {
    await page.getByRole('button', { name: 'Send in a stand-in guest' }).click();
    await bringOn.first().click();
    await bringOn.first().waitFor({ state: 'detached' });
  }
}

/** There are only four of them, and the next show wants them too. */
async function sendGuestsAway(browser: DeskBrowser): Promise<void> {
  await browser.evaluate(`(async () => {
    const csrf = /juncta_csrf=([^;]+)/.exec(document.cookie)?.[1] ?? '';
    const url = '/api/shows/' + location.pathname.split('/').pop() + '/stand-in-guests';
    const { guests } = await (await fetch(url)).json();
    for (const { personId } of guests) {
      const sent = await fetch(url + '/' + personId, { method: 'DELETE', headers: { 'X-Juncta-Csrf': csrf } });
      if (!sent.ok) throw new Error(await sent.text());
    }
  })()`);
}

function named(what: string, pace: Awaited<ReturnType<typeof measure>>): Figures {
  console.error(what, JSON.stringify(pace));
  return {
    [`${what}_frames_per_s`]: round(pace.framesPerS, 2),
    [`${what}_interval_p50_ms`]: round(pace.p50Ms),
    [`${what}_interval_p99_ms`]: round(pace.p99Ms),
    [`${what}_dropped`]: pace.dropped,
  };
}

/** Gathers what the composer tells for so many ms. By its messages and not by a timer: a hidden page's are slow. */
const GATHER = (ms: number) => `new Promise((done) => {
  const all = [];
  const channel = new BroadcastChannel('juncta.measure');
  channel.onmessage = ({ data }) => {
    if (data.type !== 'figures') return;
    all.push({ atMs: performance.now(), pace: data.pace });
    if (all.at(-1).atMs - all[0].atMs < ${ms}) return;
    channel.close();
    done(all);
  };
})`;

/** Over a stretch of time; the quantiles are the worst of its windows of ten seconds. */
async function measure(browser: DeskBrowser, seconds: number) {
  const heard = await browser.evaluate<{ atMs: number; pace: Pace }[]>(GATHER(seconds * 1000));
  const [first, last] = [heard[0]!, heard.at(-1)!];
  const worst = (of: (pace: Pace) => number) => Math.max(...heard.slice(20).map(({ pace }) => of(pace)));
  return {
    framesPerS: ((last.pace.made - first.pace.made) * 1000) / (last.atMs - first.atMs),
    p50Ms: worst(({ p50Ms }) => p50Ms),
    p99Ms: worst(({ p99Ms }) => p99Ms),
    dropped: last.pace.dropped - first.pace.dropped,
  };
}
