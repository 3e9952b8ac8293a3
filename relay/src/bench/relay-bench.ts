import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { makeMedia } from '../testing/media';
import { freePort, until } from '../testing/place';
import { BenchProcesses, cpuNs, pause, round, runBench } from './bench-processes';
import { BenchRelay } from './bench-relay';
import { playOn } from './play-on';

/**
 * What a destination costs the relay: its CPU for one second of one feed at 4 Mbit/s, and its memory, for 1, 6, 12 and
 * 30 destinations, beside nginx's RTMP module that pushes the same stream to as many places at the same time. Another
 * nginx receives all. What each takes with no destination at all is taken off: it wavers by more than a few destinations
 * cost, so it is measured before and after every load, and the two nearest are meant. How linear it is says a straight
 * line through the middle of each load: what the first destination costs beside its share, and what each costs.
 *
 * Needs Debian's `nginx-light` and `libnginx-mod-rtmp`. JUNCTA_BENCH_SECONDS (120) and JUNCTA_BENCH_RUNS (3).
 */
const SECONDS = Number(process.env['JUNCTA_BENCH_SECONDS'] ?? 120);
const RUNS = Number(process.env['JUNCTA_BENCH_RUNS'] ?? 3);
const COUNTS = [1, 6, 12, 30];
const KBPS = 4000;
const MEDIA_SECONDS = 20;
/** Of the time of a load, for what is taken without any. */
const BASE_SHARE = 1 / 3;
const SETTLE_MS = 6000;

const processes = new BenchProcesses('relay');
const { work } = processes;
const source = path.join(work, 'source.flv');
const run = (program: string, args: string[]) => processes.run(program, args).pid!;

const rssBytes = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) * 1024;

const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!;

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

/** Least squares. */
function straightLine(points: readonly (readonly [number, number])[]) {
  const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [x0, y0] = [mean(xs), mean(ys)];
  const sum = (f: (x: number, y: number) => number) =>
    points.reduce((so, [x, y]) => so + f(x - x0, y - y0), 0);
  const slope = sum((x, y) => x * y) / sum((x) => x * x);
  const left = sum((x, y) => (y - slope * x) ** 2);
  return { slope, at0: y0 - slope * x0, r2: 1 - left / sum((_, y) => y * y) };
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
async function measure(count: number, seconds: number, relay: BenchRelay, sinkPort: number): Promise<Used> {
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
    await relay.order('POST', `/feeds/${id}/start`, {
      address: sink,
      key: `j${name}x${i}`,
      arrival: 'public',
    });
  }
  await pause(SETTLE_MS);
  const before = { relay: cpuNs(relay.pid), nginx: cpuNs(nginxPid), atMs: performance.now() };
  await pause(seconds * 1000);
  const took = (performance.now() - before.atMs) / 1000;
  const [relayNs, nginxNs] = [cpuNs(relay.pid) - before.relay, cpuNs(nginxPid) - before.nginx];
  const sending = (await relay.order('GET', '')).feeds.filter(({ state }) => state === 'sending');
  if (sending.length !== count) throw new Error(`${sending.length} of ${count} feeds were sending`);
  const rss = rssBytes(relay.pid);
  for (const id of destinations) await relay.order('POST', `/feeds/${id}/stop`);
  for (const pid of [feeder, nginxPid]) process.kill(pid);
  await pause(1500);
  const used = {
    count,
    relay: relayNs / 1e6 / took,
    nginx: nginxNs / 1e6 / took,
    kbps: count === 0 ? 0 : median(sending.map(({ bitrateKbps }) => bitrateKbps ?? 0)),
    rssBytes: rss,
  };
  process.stderr.write(`${count}: relay ${used.relay.toFixed(2)} nginx ${used.nginx.toFixed(2)} ms/s\n`);
  return used;
}

async function main(): Promise<object> {
  // Made first: while ffmpeg works nothing else does here, and the relay would take the desk for gone.
  writeFlv(source);
  const sinkPort = await freePort();
  await startNginx('sink', sinkPort, 'application sink { live on; }');
  const relay = new BenchRelay(processes);
  await relay.start();
  const session = randomUUID();
  const desk = await relay.openDesk(session, { width: 1280, height: 720 });
  playOn(() => desk, session, {
    seconds: MEDIA_SECONDS,
    size: '1280x720',
    kbps: KBPS,
  });
  await relay.stateIs('source');
  // Young programs are compiled while they run: not measured.
  await measure(12, Math.min(SECONDS, 30), relay, sinkPort);
  const perDestination = new Map(
    COUNTS.map((count) => [count, { relay: [] as number[], nginx: [] as number[] }]),
  );
  const bases: number[] = [];
  const memory: number[] = [];
  const figures: Record<string, number> = { seconds_each: SECONDS, runs: RUNS };
  const baseSeconds = Math.max(5, SECONDS * BASE_SHARE);
  for (let turn = 0; turn < RUNS; turn++) {
    let before = await measure(0, baseSeconds, relay, sinkPort);
    const { rssBytes: atFirst } = before;
    bases.push(before.relay);
    for (const count of COUNTS) {
      const used = await measure(count, SECONDS, relay, sinkPort);
      const after = await measure(0, baseSeconds, relay, sinkPort);
      bases.push(after.relay);
      const own = used.relay - (before.relay + after.relay) / 2;
      const nginx = used.nginx - (before.nginx + after.nginx) / 2;
      perDestination.get(count)!.relay.push(own / count);
      perDestination.get(count)!.nginx.push(nginx / count);
      figures[`kbps_${count}`] = used.kbps;
      if (count === COUNTS.at(-1)) memory.push((used.rssBytes - atFirst) / count / 1e6);
      before = after;
    }
  }
  const line = straightLine([...perDestination].map(([count, took]) => [count, median(took.relay) * count]));
  figures['relay_ms_per_further_destination_second'] = round(line.slope, 3);
  figures['relay_ms_per_s_of_the_first_beside'] = round(line.at0, 2);
  figures['relay_straightness_r2'] = round(line.r2, 4);
  figures['relay_base_spread_ms_per_s'] = round(Math.max(...bases) - Math.min(...bases), 2);
  figures['relay_without_destinations_ms_per_s'] = round(median(bases), 2);
  figures['relay_mb_per_feed'] = round(Math.max(...memory), 2);
  for (const [count, took] of perDestination) {
    figures[`relay_ms_per_destination_second_${count}`] = round(median(took.relay), 3);
    figures[`nginx_ms_per_destination_second_${count}`] = round(median(took.nginx), 3);
    figures[`ratio_${count}`] = round(median(took.relay) / median(took.nginx), 2);
  }
  return figures;
}

/** The medium as a file that ffmpeg can push, made by ffmpeg from the same frames. */
function writeFlv(file: string): void {
  const media = makeMedia(MEDIA_SECONDS, '1280x720', KBPS);
  const raw = path.join(work, 'source.h264');
  writeFileSync(raw, Buffer.concat(media.videoFrames.map(({ annexB }) => annexB)));
  const audioFrame = ['-f', 'lavfi', '-i', 'sine=frequency=1000:sample_rate=48000'];
  const args = `-v error -y -framerate 30 -i ${raw}`.split(' ');
  const out = `-t ${MEDIA_SECONDS} -c:v copy -c:a aac -b:a 160k -ac 2 -f flv ${file}`.split(' ');
  const { status } = spawnSync('ffmpeg', [...args, ...audioFrame, ...out], { stdio: 'ignore' });
  if (status !== 0) throw new Error('the source for nginx could not be made');
}

runBench(main);
