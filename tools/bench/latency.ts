import { chromium, type Page } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { buildAll, ROOT } from '../build/main';
import { freePort } from '../machine/ports';
import { startHouse } from '../test/house';
import { addPattern, openDeskBrowser, quantile, round } from './desk-browser';
import type { Bench } from './bench';
import { startNow } from './start-now';

const SECONDS = Number(process.env['JUNCTA_BENCH_SECONDS'] ?? 60);
const READY_SHOW = 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f01';

const HOST = 'Odalys Brandt';
const GUEST = 'Pascoe Trethewey';

/**
 * How long a flash takes to the place, and how far its beep is from it there: first from a source at the desk, then
 * from a guest's own browser through the media server.
 */
export const latency: Bench = {
  about:
    'flash to its arrival at the place, and the offset of flash and beep there (positive: the sound is late)',
  async run() {
    await buildAll(false, (text) => console.error(text));
    const dir = path.join(ROOT, '.test', 'bench-latency');
    rmSync(dir, { recursive: true, force: true });
    mkdirSync(dir, { recursive: true });
    const house = await startHouse(await freePort(), dir);
    const browser = await openDeskBrowser(house);
    const guests = await chromium.launch({ executablePath: '/usr/bin/chromium', args: GUEST_BROWSER });
    try {
      const { page } = browser;
      const link = await makeLink(page);
      await page.goto(`${house.url}/desk/${READY_SHOW}`);
      await page.getByRole('button', { name: 'Compose here' }).waitFor();
      await hearPatternBegin(page);
      await composeHere(page);
      await page.waitForTimeout(FARTHEST_MS);
      const guest = await comeIn(link);
      await page.getByRole('button', { name: /Start the feed to Emberplay/ }).click();
      await startNow(page);
      await page.getByText('Seen from outside.').waitFor();
      await page.waitForTimeout((SECONDS + 3) * 1000);
      await page.getByRole('button', { name: `Bring on ${GUEST}` }).click();
      await page.getByRole('button', { name: `Take off ${HOST}` }).click();
      await page.waitForTimeout((SECONDS + 3) * 1000);
      const began = { desk: await patternBegan(page), guest: await patternBegan(guest) };
      await page.getByRole('button', { name: 'End show' }).click();
      await page.getByRole('button', { name: 'End everywhere now' }).click();
      await page.getByText('Ended here.').waitFor();
      const addresses = JSON.parse(readFileSync(path.join(dir, 'addresses.json'), 'utf8')) as {
        emberplay: string;
      };
      const arrivals = (await (await fetch(`${addresses.emberplay}/console/arrivals`)).json()) as {
        received: string;
        packets: string;
      }[];
      const both = read(arrivals.at(-1)!);
      return { ...evaluate(both, began.desk, 'desk'), ...evaluate(both, began.guest, 'guest') };
    } finally {
      await guests.close();
      await browser.close();
      await house.stop();
      rmSync(dir, { recursive: true, force: true });
    }

    async function makeLink(page: Page): Promise<string> {
      await page.goto(`${house.url}/shows/${READY_SHOW}`);
      await page.getByRole('button', { name: new RegExp(`link for ${GUEST.split(' ')[0]}`) }).click();
      return page.getByRole('textbox', { name: `Link of ${GUEST}` }).inputValue();
    }

    /** A guest with the test picture, in a browser of their own. */
    async function comeIn(link: string): Promise<Page> {
      const page = await guests.newPage();
      await page.goto(link);
      await page.getByRole('button', { name: 'Use a test picture instead' }).waitFor();
      await hearPatternBegin(page);
      await page.getByRole('button', { name: 'Use a test picture instead' }).click();
      await page.getByRole('button', { name: 'Go in' }).click();
      await page.getByText('In the wings', { exact: true }).waitFor();
      return page;
    }

    async function composeHere(page: (typeof browser)['page']): Promise<void> {
      await page.getByRole('button', { name: 'Compose here' }).click();
      await addPattern(page, HOST);
      await page.getByRole('button', { name: `Bring on ${HOST}` }).click();
      await page.getByText('The relay has the programme.').waitFor();
    }
  },
};
const FRAMES_PER_S = 30;
/** No flash is longer under way; the guest's pattern begins later than this after the desk's. */
const FARTHEST_MS = 2000;
const GUEST_BROWSER = ['--no-sandbox', '--disable-gpu', '--disable-quic'];

/** A pattern tells once when it began; what listens has to be there before. */
async function hearPatternBegin(page: Page): Promise<void> {
  await page.evaluate(() => {
    new BroadcastChannel('juncta.measure').onmessage = ({
      data,
    }: MessageEvent<{ type: string; startedAtMs: number }>) => {
      if (data.type === 'pattern')
        document.documentElement.dataset['patternStart'] = String(data.startedAtMs);
    };
  });
}

const patternBegan = async (page: Page): Promise<number> =>
  Number(await page.evaluate(() => document.documentElement.dataset['patternStart']));

interface Flash {
  readonly timeMs: number;
  /** The pattern's own number of the picture. */
  readonly number: number | null;
  /** Null: not told by the place. */
  readonly arrivedAtMs: number | null;
  readonly audioOffsetMs: number | null;
}

/** Every flash that the place received, with its beep. */
function read({ received, packets }: { received: string; packets: string }): Flash[] {
  const arrivedAtMs = new Map<number, number>();
  for (const line of readFileSync(packets, 'utf8').trim().split('\n')) {
    const [kind, timeMs, , , atMs] = line.split(',').map(Number) as [number, number, number, number, number];
    if (kind === 9) arrivedAtMs.set(timeMs, atMs);
  }
  const videoFrames = readVideoFrames(received);
  const flashes = videoFrames.filter(({ flash }, i) => flash && i > 0 && !videoFrames[i - 1]!.flash);
  // What was waiting when the feed began came all at once and says nothing.
  const later = flashes.filter(({ timeMs }) => timeMs > 4000);
  const onsets = audioOnsetsMs(received);
  return later.map(({ timeMs, number }) => {
    const nearest = onsets.reduce(
      (best, one) => (Math.abs(one - timeMs) < Math.abs(best - timeMs) ? one : best),
      Infinity,
    );
    return {
      timeMs,
      number,
      arrivedAtMs: arrivedAtMs.get(timeMs) ?? null,
      audioOffsetMs: Math.abs(nearest - timeMs) < 500 ? nearest - timeMs : null,
    };
  });
}

/** The flashes of one of the two patterns: those that its beginning explains. */
function evaluate(flashes: readonly Flash[], startedAtMs: number, from: 'desk' | 'guest') {
  const theirs = flashes.flatMap(({ number, arrivedAtMs, audioOffsetMs }) => {
    if (number === null || arrivedAtMs === null) return [];
    // The flash began with the second that this picture belongs to.
    const latencyMs = arrivedAtMs - (startedAtMs + Math.floor(number / FRAMES_PER_S) * 1000);
    return latencyMs > 0 && latencyMs < FARTHEST_MS ? [{ latencyMs, audioOffsetMs }] : [];
  });
  const latencies = theirs.map(({ latencyMs }) => latencyMs).sort((a, b) => a - b);
  const offsets = theirs.flatMap(({ audioOffsetMs }) => audioOffsetMs ?? []).sort((a, b) => a - b);
  return {
    [`${from}_flashes`]: latencies.length,
    [`${from}_flash_to_place_p50_ms`]: round(quantile(latencies, 0.5), 0),
    [`${from}_flash_to_place_p95_ms`]: round(quantile(latencies, 0.95), 0),
    [`${from}_beeps`]: offsets.length,
    [`${from}_sound_offset_median_ms`]: round(quantile(offsets, 0.5)),
    [`${from}_sound_offset_p05_ms`]: round(quantile(offsets, 0.05)),
    [`${from}_sound_offset_p95_ms`]: round(quantile(offsets, 0.95)),
  };
}

/** The pattern alone in the programme, at a quarter of its size: 320x180, two of its pixels to one of ours. */
function readVideoFrames(file: string): { timeMs: number; number: number | null; flash: boolean }[] {
  const times = execFileSync(
    'ffprobe',
    ['-v', 'error', '-select_streams', 'v', '-show_entries', 'packet=pts_time', '-of', 'csv=p=0', file],
    {
      encoding: 'utf8',
      maxBuffer: 64 * 1024 ** 2,
    },
  )
    .trim()
    .split('\n')
    .map((text) => Math.round(Number(text.replace(',', '')) * 1000));
  const raw = execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      file,
      '-fps_mode',
      'passthrough',
      '-vf',
      'scale=320:180',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'gray',
      '-',
    ],
    {
      maxBuffer: 1024 ** 3,
    },
  );
  const bytes = 320 * 180;
  return Array.from({ length: Math.min(times.length, Math.floor(raw.length / bytes)) }, (_, i) => {
    const light = (x: number, y: number) =>
      raw[i * bytes + Math.round(y / 2) * 320 + Math.round(x / 2)]! > 128;
    const fields = Array.from({ length: 24 }, (__, field) => light(140 + 15 * field + 7.5, 207));
    const value = (bits: boolean[]) => bits.reduce((sum, bit) => sum * 2 + (bit ? 1 : 0), 0);
    const number = value(fields.slice(0, 20));
    let sum = 0;
    for (let rest = number; rest > 0; rest >>= 4) sum += rest & 15;
    const good = value(fields.slice(20)) === (~sum & 15);
    return { timeMs: times[i]!, number: good ? number : null, flash: light(320, 66) };
  });
}

function audioOnsetsMs(file: string): number[] {
  const raw = execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      file,
      '-af',
      'aresample=async=1:first_pts=0',
      '-f',
      's16le',
      '-ac',
      '1',
      '-ar',
      '48000',
      '-',
    ],
    {
      maxBuffer: 1024 ** 3,
    },
  );
  const onsets: number[] = [];
  let lastLoud = -24_000;
  for (let i = 0; i < raw.length / 2; i++) {
    if (Math.abs(raw.readInt16LE(i * 2)) < 1000) continue;
    if (i - lastLoud > 12_000) onsets.push(i / 48);
    lastLoud = i;
  }
  return onsets;
}
