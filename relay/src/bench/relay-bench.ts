import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Piece } from '@juncta/core/relay';
import { TestDesk, ticketFor } from '../testing/desk';
import { makeMedia, piecesOf } from '../testing/media';
import { freePort, until } from '../testing/place';

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
const source = path.join(work, 'source.flv');
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

type Order = (
  method: string,
  where: string,
  body?: object,
) => Promise<{ state: string; feeds: { state: string; bitrateKbps: number }[] }>;

/** A relay of its own process, and how it is told what to do. */
async function startRelay(showId: string): Promise<{ pid: number; desk: TestDesk; order: Order }> {
  const secret = randomBytes(24).toString('hex');
  const [port, controlPort] = [await freePort(), await freePort()];
  const pid = run(process.execPath, [path.join(ROOT, 'dist/relay.mjs')], {
    JUNCTA_RELAY_DIR: path.join(work, 'relay'),
    JUNCTA_RELAY_PORT: String(port),
    JUNCTA_RELAY_CONTROL_PORT: String(controlPort),
    JUNCTA_RELAY_SECRET: secret,
    JUNCTA_ALLOW_LOCAL_PLACES: '1',
    JUNCTA_LOG_LEVEL: 'error',
  });
  const control = `http://127.0.0.1:${controlPort}`;
  await until('the relay answers', async () => (await fetch(`${control}/healthz`).catch(() => null))?.ok);
  const order: Order = async (method, where, body = {}) => {
    const response = await fetch(`${control}/control/shows/${showId}${where}`, {
      method,
      headers: { Authorization: `Bearer ${secret}` },
      ...(method === 'GET' ? {} : { body: JSON.stringify(body) }),
    });
    return (await response.json()) as Awaited<ReturnType<Order>>;
  };
  const session = randomUUID();
  const ticket = ticketFor(secret, { showId, expiresAtMs: Date.now() + 24 * 3_600_000 });
  const desk = await TestDesk.open(port, ticket, session, { width: 1280, height: 720 });
  await until('the desk is welcome', () => desk.answers[0]?.type === 'welcome');
  playOn(desk, session);
  await until('there is a programme', async () => (await order('GET', '')).state === 'source');
  return { pid, desk, order };
}

interface Used {
  readonly count: number;
  /** ms of CPU in each second. */
  readonly relay: number;
  readonly nginx: number;
  readonly kbps: number;
  readonly rssBytes: number;
}

let step = 0;

/** So many destinations at both for a while. */
async function measure(
  count: number,
  seconds: number,
  relayPid: number,
  order: Order,
  sinkPort: number,
): Promise<Used> {
  const name = `s${++step}`;
  const pushPort = await freePort();
  const sink = `rtmp://127.0.0.1:${sinkPort}/sink`;
  const pushes = Array.from({ length: count }, (_, i) => `push ${sink}/n${name}x${i};`).join(' ');
  const nginxPid = await startNginx('push', pushPort, `application src { live on; ${pushes} }`);
  const address = `rtmp://127.0.0.1:${pushPort}/src/s`;
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
    address,
  ]);
  const destinations = Array.from({ length: count }, () => randomUUID());
  for (const [i, id] of destinations.entries()) {
    await order('POST', `/feeds/${id}/start`, { address: sink, key: `j${name}x${i}`, arrival: 'public' });
  }
  await pause(SETTLE_MS);
  const before = { relay: cpuNs(relayPid), nginx: cpuNs(nginxPid), atMs: performance.now() };
  await pause(seconds * 1000);
  const took = (performance.now() - before.atMs) / 1000;
  const [relay, nginx] = [cpuNs(relayPid) - before.relay, cpuNs(nginxPid) - before.nginx];
  const sending = (await order('GET', '')).feeds.filter(({ state }) => state === 'sending');
  if (sending.length !== count) throw new Error(`${sending.length} of ${count} feeds were sending`);
  const rss = rssBytes(relayPid);
  for (const id of destinations) await order('POST', `/feeds/${id}/stop`);
  for (const pid of [feeder, nginxPid]) process.kill(pid);
  await pause(1500);
  const used = {
    count,
    relay: relay / 1e6 / took,
    nginx: nginx / 1e6 / took,
    kbps: count === 0 ? 0 : median(sending.map(({ bitrateKbps }) => bitrateKbps)),
    rssBytes: rss,
  };
  process.stderr.write(`${count}: relay ${used.relay.toFixed(2)} nginx ${used.nginx.toFixed(2)} ms/s\n`);
  return used;
}

async function main(): Promise<void> {
  // Made first: while ffmpeg works nothing else does here, and the relay would take the desk for gone.
  writeFlv(source);
  const sinkPort = await freePort();
  await startNginx('sink', sinkPort, 'application sink { live on; }');
  const { pid, order } = await startRelay(randomUUID());
  // Young programs are compiled while they run: not measured.
  await measure(12, Math.min(SECONDS, 30), pid, order, sinkPort);
  const perDestination = new Map(
    COUNTS.map((count) => [count, { relay: [] as number[], nginx: [] as number[] }]),
  );
  const bases: number[] = [];
  const memory: number[] = [];
  const figures: Record<string, number> = { seconds_each: SECONDS, runs: RUNS };
  for (let turn = 0; turn < RUNS; turn++) {
    // What each takes without any destination, before and after.
    const before = await measure(0, SECONDS, pid, order, sinkPort);
    const loaded: Used[] = [];
    for (const count of COUNTS) loaded.push(await measure(count, SECONDS, pid, order, sinkPort));
    const after = await measure(0, SECONDS, pid, order, sinkPort);
    const base = { relay: (before.relay + after.relay) / 2, nginx: (before.nginx + after.nginx) / 2 };
    bases.push(base.relay);
    for (const { count, relay, nginx, kbps } of loaded) {
      perDestination.get(count)!.relay.push((relay - base.relay) / count);
      perDestination.get(count)!.nginx.push((nginx - base.nginx) / count);
      figures[`kbps_${count}`] = kbps;
    }
    const most = loaded.at(-1)!;
    memory.push((most.rssBytes - before.rssBytes) / most.count / 1e6);
  }
  figures['relay_without_destinations_ms_per_s'] = round(median(bases), 2);
  figures['relay_mb_per_feed'] = round(Math.max(...memory), 2);
  for (const [count, { relay, nginx }] of perDestination) {
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
  const args = `-v error -y -framerate 30 -i ${raw}`.split(' ');
  const out = `-t ${MEDIA_SECONDS} -c:v copy -c:a aac -b:a 160k -ac 2 -f flv ${file}`.split(' ');
  const { status } = spawnSync('ffmpeg', [...args, ...sound, ...out], { stdio: 'ignore' });
  if (status !== 0) throw new Error('the source for nginx could not be made');
}

for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(1));
// Whatever happens, nothing that was started here stays.
process.on('exit', () => {
  for (const child of children) child.kill('SIGKILL');
  rmSync(work, { recursive: true, force: true });
});
main().then(
  () => process.exit(0),
  (error: unknown) => {
    process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
    process.exit(1);
  },
);
