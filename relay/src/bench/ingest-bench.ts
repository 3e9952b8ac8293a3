import type { ProgrammeReport } from '@juncta/contract/relay';
import { decodeFile, isConfiguration, isKeyframe, TAG, type FlvTag } from '@juncta/core/media/flv';
import {
  encodeMessage,
  NONCE_BYTES,
  parseRtmpAddress,
  PUBLISH_CHUNK_BYTES,
  RtmpPublisher,
  RtmpReceiver,
} from '@juncta/core/media/rtmp';
import { execFileSync } from 'node:child_process';
import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { connect, createServer, type AddressInfo, type Socket } from 'node:net';
import path from 'node:path';
import { until } from '../testing/place';
import { BenchProcesses, cpuNs, pause, round, runBench } from './bench-processes';
import { BenchRelay } from './bench-relay';

/**
 * An outside picture on its way through the relay: from the moment in which an encoder hands a frame to the network to
 * the one in which a place has it, copied and converted, and what both cost; and what twelve inputs cost that wait in
 * preview. One frame every two seconds is noise, which takes so many bytes that it is known again at the place.
 *
 * JUNCTA_BENCH_SECONDS (30) for each.
 */
const SECONDS = Number(process.env['JUNCTA_BENCH_SECONDS'] ?? 30);
const CLIP_S = 20;
const INPUTS = 12;
const PER_SHOW = 6;
const WANTS = { width: 1280, height: 720, rateHz: 30, leastKbps: 900, mostKbps: 4000 };
const KEY = 'a-key-of-the-bench';
const SETTLE_MS = 4000;

const processes = new BenchProcesses('ingest');

/** Moving, with a frame of noise in the middle between keyframes. */
function makeClip(size: string, rateHz: number): FlvTag[] {
  const file = path.join(processes.work, `${size}-${rateHz}.flv`);
  const picture = `testsrc2=size=${size}:rate=${rateHz}`;
  const noise = `noise=alls=90:allf=t:enable='between(mod(n,${2 * rateHz}),${rateHz},${rateHz + 1})'`;
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', `${picture},${noise}`],
    ...['-f', 'lavfi', '-i', 'sine=frequency=440:sample_rate=48000', '-t', String(CLIP_S)],
    ...['-c:v', 'libx264', '-preset', 'ultrafast', '-tune', 'zerolatency', '-pix_fmt', 'yuv420p'],
    ...['-g', String(2 * rateHz), '-keyint_min', String(2 * rateHz), '-sc_threshold', '0'],
    ...['-b:v', '2500k', '-maxrate', '2800k', '-bufsize', '1400k'],
    ...['-c:a', 'aac', '-ac', '2', '-f', 'flv', file],
  ]);
  return [...decodeFile(readFileSync(file)).tags];
}

/** Frames that are known again: far larger than the usual one, and no keyframes. Gives whether this one is the first of them. */
class Marks {
  private readonly sizes: number[] = [];
  private within = false;

  isMark(tag: FlvTag): boolean {
    if (tag.kind !== TAG.videoFrame || isConfiguration(tag) || isKeyframe(tag)) return false;
    const usual = [...this.sizes].sort((a, b) => a - b)[this.sizes.length >> 1] ?? Infinity;
    const isLarge = tag.body.length > 2.5 * usual;
    if (!isLarge) this.sizes.push(tag.body.length);
    if (this.sizes.length > 60) this.sizes.shift();
    const isFirst = isLarge && !this.within;
    this.within = isLarge;
    return isFirst;
  }
}

/** Sends a clip over and over, in real time. */
class Encoder {
  /** When the marks were handed to the network, ms. */
  readonly marksAtMs: number[] = [];
  private readonly socket: Socket;
  private readonly publisher: RtmpPublisher;
  private readonly marks = new Marks();
  private timer: NodeJS.Timeout | undefined;

  constructor(
    port: number,
    inputId: string,
    private readonly clip: readonly FlvTag[],
  ) {
    const address = parseRtmpAddress(`rtmp://127.0.0.1:${port}/in/${inputId}`)!;
    this.publisher = new RtmpPublisher(address, KEY, randomBytes(NONCE_BYTES));
    this.socket = connect(port, '127.0.0.1', () => this.socket.write(this.publisher.begin()));
    this.socket.setNoDelay(true);
    this.socket.on('error', () => undefined);
    this.socket.on('data', (bytes) => {
      const { send, events } = this.publisher.receive(bytes);
      for (const part of send) this.socket.write(part);
      if (events.some(({ type }) => type === 'publishing')) this.play();
    });
  }

  stop(): void {
    clearInterval(this.timer);
    this.socket.destroy();
  }

  private play(): void {
    const startedMs = performance.now();
    let next = 0;
    const perLoop = CLIP_S * 1000;
    this.timer = setInterval(() => {
      for (;;) {
        const [loop, at] = [Math.floor(next / this.clip.length), next % this.clip.length];
        const tag = this.clip[at]!;
        const timeMs = loop * perLoop + tag.timeMs;
        if (timeMs > performance.now() - startedMs) return;
        next += 1;
        if (loop > 0 && (tag.kind === TAG.data || isConfiguration(tag))) continue;
        if (this.marks.isMark(tag)) this.marksAtMs.push(performance.now());
        const stream = this.publisher.streamId;
        const message = { chunkStream: tag.kind, type: tag.kind, stream, timeMs, payload: tag.body };
        this.socket.write(encodeMessage(message, PUBLISH_CHUNK_BYTES));
      }
    }, 2);
  }
}

/** Takes every feed, and notes when marks came. */
async function openPlace(): Promise<{ address: string; marksAtMs: number[] }> {
  const marksAtMs: number[] = [];
  const server = createServer((socket) => {
    const receiver = new RtmpReceiver(randomBytes(NONCE_BYTES));
    const marks = new Marks();
    socket.on('error', () => undefined);
    socket.on('data', (bytes) => {
      const { send, events } = receiver.receive(bytes);
      for (const part of send) socket.write(part);
      for (const event of events) {
        if (event.type === 'asks') for (const part of receiver.accept()) socket.write(part);
        if (event.type === 'tag' && marks.isMark(event.tag)) marksAtMs.push(performance.now());
      }
    });
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return { address: `rtmp://127.0.0.1:${(server.address() as AddressInfo).port}/place`, marksAtMs };
}

const keyHash = createHash('sha256').update(KEY).digest('hex');
const booking = (ids: readonly string[]) => ({
  inputs: ids.map((inputId) => ({ inputId, keyHash, second: 'refused', onArrival: 'waits' })),
  wants: WANTS,
});
const carried = ({ inputs }: ProgrammeReport) => inputs.every(({ carriage }) => carriage !== null);

/** The relay's own, and its converters'. */
function allCpuNs(pid: number): number {
  const children = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8')
    .trim()
    .split(' ')
    .filter(Boolean);
  return [pid, ...children.map(Number)].reduce((sum, one) => sum + cpuNs(one), 0);
}

/** ms of CPU in each second, over a while. */
async function load(relay: BenchRelay): Promise<number> {
  const [before, atMs] = [allCpuNs(relay.pid), performance.now()];
  await pause(SECONDS * 1000);
  return (allCpuNs(relay.pid) - before) / 1e6 / ((performance.now() - atMs) / 1000);
}

async function through(relay: BenchRelay, clip: readonly FlvTag[]) {
  const [showId, inputId, destination] = [randomUUID(), randomUUID(), randomUUID()];
  const order = (method: string, where: string, body: object = {}) =>
    relay.order(method, where, body, showId);
  const place = await openPlace();
  await order('PUT', '/inputs', booking([inputId]));
  const encoder = new Encoder(relay.ingestPort, inputId, clip);
  await until('it is known what comes', async () => carried(await order('GET', '')));
  await order('POST', '/input', { inputId });
  await until('it is the programme', async () => (await order('GET', '')).state === 'source');
  const feed = { address: place.address, key: 'k', arrival: 'public' };
  await order('POST', `/feeds/${destination}/start`, feed);
  await until('it is sent', async () => (await order('GET', '')).feeds[0]?.state === 'sending');
  await pause(SETTLE_MS);
  const made = (await order('GET', '')).inputs[0]!.carriage;
  const from = place.marksAtMs.length;
  const cpuMsPerS = await load(relay);
  const delays = place.marksAtMs
    .slice(from)
    // Two seconds lie between two marks.
    .map((atMs) => atMs - encoder.marksAtMs.findLast((sentMs) => sentMs <= atMs)!)
    .sort((a, b) => a - b);
  encoder.stop();
  await order('POST', `/feeds/${destination}/stop`);
  await order('PUT', '/inputs', booking([]));
  await pause(1000);
  if (delays.length === 0) throw new Error('no mark was known again at the place');
  const at = (share: number) =>
    round(delays[Math.min(delays.length - 1, Math.floor(delays.length * share))]!, 0);
  return { made, marks: delays.length, p50Ms: at(0.5), p95Ms: at(0.95), cpuMsPerS: round(cpuMsPerS, 1) };
}

async function inPreview(relay: BenchRelay, clip: readonly FlvTag[], idleMsPerS: number) {
  const shows = Array.from({ length: INPUTS / PER_SHOW }, () => ({
    showId: randomUUID(),
    ids: Array.from({ length: PER_SHOW }, () => randomUUID() as string),
  }));
  const encoders: Encoder[] = [];
  for (const { showId, ids } of shows) {
    await relay.order('PUT', '/inputs', booking(ids), showId);
    for (const id of ids) encoders.push(new Encoder(relay.ingestPort, id, clip));
  }
  for (const { showId } of shows)
    await until('all are known', async () => carried(await relay.order('GET', '', {}, showId)));
  await pause(SETTLE_MS);
  const cpuMsPerS = await load(relay);
  const reports = await Promise.all(shows.map(({ showId }) => relay.order('GET', '', {}, showId)));
  const inputs = reports.flatMap((report) => report.inputs);
  for (const encoder of encoders) encoder.stop();
  return {
    inputs: inputs.length,
    here: inputs.filter(({ state }) => state === 'in_preview').length,
    gaps: inputs.reduce((sum, { figures }) => sum + (figures?.gaps ?? 0), 0),
    cpuMsPerS: round(cpuMsPerS, 1),
    cpuMsPerSEach: round((cpuMsPerS - idleMsPerS) / INPUTS, 2),
  };
}

runBench(async () => {
  const [fits, large] = [makeClip('1280x720', 30), makeClip('1920x1080', 60)];
  const relay = new BenchRelay(processes);
  await relay.start();
  const idleMsPerS = await load(relay);
  const copied = await through(relay, fits);
  const converted = await through(relay, large);
  return {
    seconds: SECONDS,
    idleMsPerS: round(idleMsPerS, 1),
    copied,
    converted,
    preview: await inPreview(relay, fits, idleMsPerS),
  };
});
