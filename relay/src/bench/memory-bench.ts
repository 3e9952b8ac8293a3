import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { openPlace, until } from '../testing/place';
import { BenchProcesses, pause, round, runBench } from './bench-processes';
import { BenchRelay } from './bench-relay';
import { playOn } from './play-on';

/**
 * Whether the relay's memory stays flat over a long show in which things go wrong: every few minutes the desk is gone
 * for a moment and the place breaks every connection. Told are the memory after a first stretch, in which young
 * programs grow, and at the end, and the line through all that was measured between. JUNCTA_BENCH_SECONDS (7200).
 */
const SECONDS = Number(process.env['JUNCTA_BENCH_SECONDS'] ?? 7200);
const WARM_SHARE = 0.25;
const LOOK_MS = 5000;
const TROUBLE_EVERY_LOOKS = 36;
const DESK_GONE_MS = 4000;
const SIZE = { width: 640, height: 360 };
const MEDIA = { seconds: 20, size: '640x360', kbps: 800 };

interface Look {
  readonly atS: number;
  readonly mb: number;
  readonly files: number;
}

function look(pid: number, startedMs: number): Look {
  const kb = Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]);
  return {
    atS: (performance.now() - startedMs) / 1000,
    mb: (kb * 1024) / 1e6,
    files: readdirSync(`/proc/${pid}/fd`).length,
  };
}

/** MB an hour, by least squares. */
function slope(looks: readonly Look[]): number {
  const mean = (of: (one: Look) => number) => looks.reduce((sum, one) => sum + of(one), 0) / looks.length;
  const [atS, mb] = [mean((one) => one.atS), mean((one) => one.mb)];
  const over = looks.reduce((sum, one) => sum + (one.atS - atS) * (one.mb - mb), 0);
  const under = looks.reduce((sum, one) => sum + (one.atS - atS) ** 2, 0);
  return (over / under) * 3600;
}

async function main(): Promise<object> {
  const relay = new BenchRelay(new BenchProcesses('memory'));
  const place = await openPlace();
  await relay.start();
  const session = randomUUID();
  let desk = await relay.openDesk(session, SIZE);
  playOn(() => desk, session, MEDIA);
  await relay.stateIs('source');
  await relay.order('PUT', '/run', { runId: randomUUID() });
  const feed = randomUUID();
  const request = { address: place.address, key: await place.key(), arrival: 'public' };
  await relay.order('POST', `/feeds/${feed}/start`, request);
  const sends = async () => (await relay.order('GET', '')).feeds[0]?.state === 'sending';
  await until('it sends', sends);

  const startedMs = performance.now();
  const looks: Look[] = [];
  let troubles = 0;
  while (performance.now() - startedMs < SECONDS * 1000) {
    await pause(LOOK_MS);
    looks.push(look(relay.pid, startedMs));
    if (looks.length % TROUBLE_EVERY_LOOKS !== 0) continue;
    troubles += 1;
    desk.kill();
    await pause(DESK_GONE_MS);
    desk = await relay.openDesk(session, SIZE);
    await place.cut();
    await until('it sends again', sends, 60_000);
    await relay.stateIs('source');
    process.stderr.write(`${JSON.stringify(looks.at(-1))}\n`);
  }
  await place.close();
  const warm = looks.filter(({ atS }) => atS >= SECONDS * WARM_SHARE);
  return {
    seconds: SECONDS,
    troubles,
    warm_mb: round(warm[0]!.mb, 1),
    end_mb: round(warm.at(-1)!.mb, 1),
    most_mb: round(Math.max(...warm.map(({ mb }) => mb)), 1),
    slope_mb_per_hour: round(slope(warm), 2),
    warm_open_files: warm[0]!.files,
    end_open_files: warm.at(-1)!.files,
  };
}

runBench(main);
