import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Piece } from '@juncta/core/relay';
import { TestDesk, ticketFor } from '../testing/desk';
import { makeMedia, piecesOf } from '../testing/media';
import { until } from '../testing/place';

/**
 * What a destination costs the relay: its CPU for one second of one feed at 4 Mbit/s, and its memory, for 1, 6, 12 and
 * 30 destinations, beside nginx's RTMP module that pushes the same stream to as many places at the same time. Another
 * nginx receives all. What each takes with no destination at all is taken off.
 *
 * Needs Debian's `nginx-light` and `libnginx-mod-rtmp`. JUNCTA_BENCH_SECONDS (120) and JUNCTA_BENCH_RUNS (3).
 */
const SECONDS = Number(process.env['JUNCTA_BENCH_SECONDS'] ?? 120);
const RUNS = Number(process.env['JUNCTA_BENCH_RUNS'] ?? 3);
const COUNTS = [1, 6, 12, 30];
const KBPS = 4000;
const MEDIA_SECONDS = 20;
const SETTLE_MS = 6000;
const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');

const work = mkdtempSync(path.join(tmpdir(), 'juncta-bench-relay-'));
const children: ChildProcess[] = [];

function run(program: string, args: string[], env: NodeJS.ProcessEnv = {}): number {
  const child = spawn(program, args, {
    cwd: ROOT,
    env: { PATH: process.env['PATH'], ...env },
    stdio: 'ignore',
  });
  children.push(child);
  return child.pid!;
}

/** ns of CPU that all threads of a process have had. */
function cpuNs(pid: number): number {
  return readdirSync(`/proc/${pid}/task`).reduce((sum, task) => {
    try {
      return sum + Number(readFileSync(`/proc/${pid}/task/${task}/schedstat`, 'utf8').split(' ')[0]);
    } catch {
      return sum;
    }
  }, 0);
}

const rssBytes = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) * 1024;

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!;
const round = (value: number, digits: number) => Math.round(value * 10 ** digits) / 10 ** digits;

function freePort(): Promise<number> {
  return new Promise((done) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => done(port));
    });
  });
}

/** One nginx in one process, so that its CPU is its alone. */
async function startNginx(name: string, port: number, app: string): Promise<number> {
  const dir = mkdtempSync(path.join(work, `${name}-`));
  const config = `
load_module /usr/lib/nginx/modules/ngx_rtmp_module.so;
daemon off; master_process off; worker_processes 1; pid ${dir}/pid; error_log ${dir}/log error;
events { worker_connections 512; }
rtmp { server { listen 127.0.0.1:${port}; chunk_size 4096; access_log off; ${app} } }
`;
  writeFileSync(path.join(dir, 'nginx.conf'), config);
  const pid = run('nginx', ['-p', dir, '-c', path.join(dir, 'nginx.conf'), '-e', path.join(dir, 'log')]);
  await until(`${name} listens`, () =>
    readFileSync('/proc/net/tcp', 'utf8').includes(`:${port.toString(16).toUpperCase().padStart(4, '0')} `),
  );
  return pid;
}

/** The same stretch of media again and again, its times and numbers going on. */
function playOn(desk: TestDesk, session: string): NodeJS.Timeout {
  const once = piecesOf(makeMedia(MEDIA_SECONDS, '1280x720', KBPS), session);
  const startedMs = performance.now();
  let next = 0;
  return setInterval(() => {
    const dueUs = (performance.now() - startedMs) * 1000;
    const due: Piece[] = [];
    for (;;) {
      const turn = Math.floor(next / once.length);
      const piece = once[next % once.length]!;
      const timeUs = piece.timeUs + turn * MEDIA_SECONDS * 1_000_000;
      if (timeUs > dueUs) break;
      due.push({ ...piece, timeUs, number: ++next });
    }
    if (due.length > 0) desk.sendAll(due);
  }, 20);
}

async function main(): Promise<void> {
  // Made first: while ffmpeg works nothing else does here, and the relay would take the desk for gone.
  const source = path.join(work, 'source.flv');
  writeFlv(source);
  const secret = randomBytes(24).toString('hex');
  const [port, controlPort, sinkPort] = [await freePort(), await freePort(), await freePort()];
  await startNginx('sink', sinkPort, 'application sink { live on; }');
  const relayPid = run(process.execPath, [path.join(ROOT, 'dist/relay.mjs')], {
    JUNCTA_RELAY_DIR: path.join(work, 'relay'),
    JUNCTA_RELAY_PORT: String(port),
    JUNCTA_RELAY_CONTROL_PORT: String(controlPort),
    JUNCTA_RELAY_SECRET: secret,
    JUNCTA_ALLOW_LOCAL_PLACES: '1',
    JUNCTA_LOG_LEVEL: 'error',
  });
  const control = `http://127.0.0.1:${controlPort}`;
  await until('the relay answers', async () => (await fetch(`${control}/healthz`).catch(() => null))?.ok);
  const showId = randomUUID();
  const session = randomUUID();
  const order = async (method: string, where: string, body: object = {}) => {
    const init = method === 'GET' ? {} : { body: JSON.stringify(body) };
    const response = await fetch(`${control}/control/shows/${showId}${where}`, {
      method,
      headers: { Authorization: `Bearer ${secret}` },
      ...init,
    });
    return (await response.json()) as { state: string; feeds: { state: string; bitrateKbps: number }[] };
  };
  const ticket = ticketFor(secret, { showId, expiresAtMs: Date.now() + 24 * 3_600_000 });
  const desk = await TestDesk.open(port, ticket, session, { width: 1280, height: 720 });
  await until('the desk is welcome', () => desk.answers[0]?.type === 'welcome');
  playOn(desk, session);
  await until('there is a programme', async () => (await order('GET', '')).state === 'source');

  const figures: Record<string, number> = { seconds_each: SECONDS, runs: RUNS };
  const perDestination: Record<string, { relay: number[]; nginx: number[] }> = {};
  let baseRss = 0;

  for (let turn = 0; turn < RUNS; turn++) {
    const base = { relay: 0, nginx: 0 };
    // The first turn through is for warming up: young programs are compiled while they run.
    const counts = turn === 0 ? [12, 0, ...COUNTS] : [0, ...COUNTS];
    for (const [step, count] of counts.entries()) {
      const warmUp = turn === 0 && step === 0;
      const pushPort = await freePort();
      const pushes = Array.from(
        { length: count },
        (_, i) => `push rtmp://127.0.0.1:${sinkPort}/sink/n${turn}x${step}x${i};`,
      );
      const nginxPid = await startNginx('push', pushPort, `application src { live on; ${pushes.join(' ')} }`);
      const feeder = run('ffmpeg', [
        '-v',
        'error',
        '-re',
        '-stream_loop',
        '-1',
        '-i',
        source,
        '-c',
        'copy',
        '-f',
        'flv',
        `rtmp://127.0.0.1:${pushPort}/src/s`,
      ]);
      const destinations = Array.from({ length: count }, () => randomUUID());
      for (const [i, id] of destinations.entries()) {
        const wish = {
          address: `rtmp://127.0.0.1:${sinkPort}/sink`,
          key: `j${turn}x${step}x${i}`,
          arrival: 'public',
        };
        await order('POST', `/feeds/${id}/start`, wish);
      }
      await pause(SETTLE_MS);
      const before = { relay: cpuNs(relayPid), nginx: cpuNs(nginxPid), atMs: performance.now() };
      await pause((warmUp ? Math.min(SECONDS, 30) : SECONDS) * 1000);
      const seconds = (performance.now() - before.atMs) / 1000;
      const used = {
        relay: (cpuNs(relayPid) - before.relay) / 1e6 / seconds,
        nginx: (cpuNs(nginxPid) - before.nginx) / 1e6 / seconds,
      };
      if (count === 0) {
        Object.assign(base, used);
        baseRss = rssBytes(relayPid);
        figures['relay_without_destinations_ms_per_s'] = round(used.relay, 2);
      } else if (!warmUp) {
        const sending = (await order('GET', '')).feeds.filter(({ state }) => state === 'sending');
        if (sending.length !== count) throw new Error(`${sending.length} of ${count} feeds were sending`);
        figures[`kbps_${count}`] = median(sending.map(({ bitrateKbps }) => bitrateKbps));
        const kept = (perDestination[count] ??= { relay: [], nginx: [] });
        kept.relay.push((used.relay - base.relay) / count);
        kept.nginx.push((used.nginx - base.nginx) / count);
        if (count === COUNTS.at(-1)) {
          figures['relay_mb_per_feed'] = round((rssBytes(relayPid) - baseRss) / count / 1e6, 2);
        }
        process.stderr.write(
          `${count}: relay ${kept.relay.at(-1)!.toFixed(3)} nginx ${kept.nginx.at(-1)!.toFixed(3)} ms\n`,
        );
      }
      for (const id of destinations) await order('POST', `/feeds/${id}/stop`);
      for (const pid of [feeder, nginxPid]) process.kill(pid);
      await pause(1500);
    }
  }
  for (const [count, { relay, nginx }] of Object.entries(perDestination)) {
    figures[`relay_ms_per_destination_second_${count}`] = round(median(relay), 3);
    figures[`nginx_ms_per_destination_second_${count}`] = round(median(nginx), 3);
    figures[`ratio_${count}`] = round(median(relay) / median(nginx), 2);
  }
  console.log(JSON.stringify(figures));
}

/** The medium as a file that ffmpeg can push, made by ffmpeg from the same pictures. */
function writeFlv(file: string): void {
  const media = makeMedia(MEDIA_SECONDS, '1280x720', KBPS);
  const raw = path.join(work, 'source.h264');
  writeFileSync(raw, Buffer.concat(media.pictures.map(({ annexB }) => annexB)));
  const sound = ['-f', 'lavfi', '-i', 'sine=frequency=1000:sample_rate=48000'];
  const { status } = spawnSyncQuiet([
    '-y',
    '-framerate',
    '30',
    '-i',
    raw,
    ...sound,
    '-t',
    String(MEDIA_SECONDS),
    '-c:v',
    'copy',
    '-c:a',
    'aac',
    '-b:a',
    '160k',
    '-ac',
    '2',
    '-f',
    'flv',
    file,
  ]);
  if (status !== 0) throw new Error('the source for nginx could not be made');
}

function spawnSyncQuiet(args: string[]) {
  return spawnSync('ffmpeg', ['-v', 'error', ...args], { stdio: 'ignore' });
}

main()
  .catch((error: unknown) => {
    process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
    process.exitCode = 1;
  })
  .finally(() => {
    for (const child of children) child.kill('SIGTERM');
    rmSync(work, { recursive: true, force: true });
    setTimeout(() => process.exit(), 1000);
  });
