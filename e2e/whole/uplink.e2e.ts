import { execFileSync } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { feeds, ODALYS, READY_SHOW, startOnAir } from '../support/desk';
import { expect, test } from '../support/house';
import { placeAt } from '../support/place';
import { freePort, Run } from '../support/run';
import { SlowLine } from '../support/slow-line';

/** The softest picture that a desk sends, with its sound. */
const LEAST_KBPS = 900 + 128;
const EMBERPLAY = 'Emberplay, the school’s channel';
const steps = (values: readonly number[]) => values.slice(1).map((value, i) => value - values[i]!);

/** What a camera sees that is hard to encode, so that the programme takes the whole of its rate. */
function grain(file: string): void {
  const args = ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=size=640x360:rate=15', '-t', '4'];
  execFileSync('ffmpeg', [...args, '-vf', 'noise=alls=22:allf=t', '-pix_fmt', 'yuv420p', file]);
}

/** In a house of its own, whose desks reach its relay by a line of ours. */
test('a line from the desk that gets narrow costs sharpness and no picture, and what was lost comes back', async ({
  playwright,
}, { project }) => {
  test.setTimeout(300_000);
  const dir = mkdtempSync(path.join('/tmp', 'juncta-uplink-'));
  // PostgreSQL's own account has to get in.
  chmodSync(dir, 0o755);
  const film = path.join(dir, 'grain.y4m');
  grain(film);
  const { launchOptions } = project.use;
  const browser = await playwright.chromium.launch({
    ...launchOptions,
    args: [
      ...(launchOptions?.args ?? []),
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-video-capture=${film}`,
    ],
  });
  const port = await freePort();
  // The relay listens beside the server.
  const line = await SlowLine.open(port + 1);
  const run = new Run(['--port', String(port), '--data', path.join(dir, 'house')], {
    JUNCTA_RELAY_PUBLIC_URL: `ws://127.0.0.1:${line.port}`,
  });
  try {
    await run.says('Juncta is ready');
    const place = placeAt('emberplay', path.join(dir, 'house'));
    /** What arrived at the place since, tag by tag. */
    const arrivedSince = async (sinceMs: number) =>
      readFileSync((await place.lastArrival()).packets, 'utf8')
        .split('\n')
        .map((row) => row.split(','))
        .map(([kind, , bytes, , at]) => ({ isPicture: kind === '9', bytes: Number(bytes), atMs: Number(at) }))
        .filter(({ atMs }) => atMs > sinceMs);
    /** kbit/s that arrived within the last so many seconds. */
    const lately = async (seconds: number) => {
      const bytes = (await arrivedSince(Date.now() - seconds * 1000)).reduce(
        (sum, one) => sum + one.bytes,
        0,
      );
      return (bytes * 8) / 1000 / seconds;
    };
    const page = await browser.newPage({
      baseURL: `http://localhost:${port}`,
      permissions: ['camera', 'microphone'],
    });
    await page.goto('/sign-in');
    await page.getByRole('button', { name: /Odalys/ }).click();
    await expect(page.getByRole('heading', { name: 'Shows', level: 1 })).toBeVisible();
    await page.goto(READY_SHOW);
    await page.getByRole('button', { name: 'Compose here' }).click();
    await page.getByRole('button', { name: `Camera for ${ODALYS}` }).click();
    await page.getByRole('button', { name: `Bring on ${ODALYS}` }).click();
    await startOnAir(page, `Start the feed to ${EMBERPLAY}`, 'Start now');
    await expect(feeds(page).getByText('Seen from outside.')).toBeVisible();
    // As much as this machine makes of it, once that stays the same.
    await expect
      .poll(
        async () => {
          const [now, over] = [await lately(5), await lately(10)];
          return now > 1000 && Math.abs(now - over) < 0.1 * over;
        },
        { timeout: 90_000 },
      )
      .toBe(true);
    const before = await lately(10);
    const picturesSince = async (sinceMs: number) =>
      (await arrivedSince(sinceMs)).filter(({ isPicture }) => isPicture).map(({ atMs }) => atMs);
    const perS = (await picturesSince(Date.now() - 10_000)).length / 10;

    // A slow machine makes little of it: no line that is narrower than the least that a desk sends can be adapted to.
    line.kbps = Math.round(Math.max(before * 0.6, 1.1 * LEAST_KBPS));
    const narrowMs = Date.now();
    // It is noticed by what arrives, long before the buffers on the way are full, and said.
    const softer = page.getByText(/softer than usual/);
    await expect(softer).toBeVisible({ timeout: 30_000 });
    /** kbit/s that the desk says; all that there is once it says nothing. */
    const said = async () => {
      const [words] = await softer.allTextContents();
      return words === undefined ? Infinity : Number(words.replace(/\D+/g, ''));
    };
    await expect.poll(said, { timeout: 30_000 }).toBeLessThan(line.kbps);
    // Pictures go on arriving for half a minute.
    await expect
      .poll(async () => (await picturesSince(narrowMs)).at(-1) ?? 0, { timeout: 60_000 })
      .toBeGreaterThan(narrowMs + 30_000);
    const pictures = await picturesSince(narrowMs);
    const settled = pictures.filter((atMs) => atMs > narrowMs + 10_000 && atMs < narrowMs + 30_000);
    expect(settled.length / 20).toBeGreaterThan(0.7 * perS);
    expect(Math.max(...steps(pictures))).toBeLessThan(2000);

    // The desk asks for more again, and what arrives is sharper. How much more, and how soon, is this machine's speed.
    const bytesOf = async (fromMs: number, toMs: number) => {
      const seen = (await arrivedSince(fromMs)).filter(({ isPicture, atMs }) => isPicture && atMs < toMs);
      return seen.reduce((sum, { bytes }) => sum + bytes, 0) / seen.length;
    };
    const narrow = { said: await said(), bytes: await bytesOf(narrowMs + 10_000, narrowMs + 30_000) };
    line.kbps = Infinity;
    await expect.poll(said, { timeout: 90_000 }).toBeGreaterThan(narrow.said * 1.1);
    await expect
      .poll(() => bytesOf(Date.now() - 8000, Date.now()), { timeout: 60_000 })
      .toBeGreaterThan(narrow.bytes * 1.1);
  } finally {
    await browser.close();
    run.child.kill('SIGTERM');
    await run.ended;
    await line.close();
    rmSync(dir, { recursive: true, force: true });
  }
});
