import { type ChildProcess, spawn } from 'node:child_process';
import { createWriteStream, mkdirSync, openSync, readdirSync, rmSync, type WriteStream } from 'node:fs';
import path from 'node:path';
import type { Logger } from 'pino';
import { HealthMeter, type EncoderRules, type StreamHealth } from './stream-health';

/** This many arrivals are kept for inspection; older ones go. */
const KEPT = 12;
/** An arrival is kept up to this size; what comes after it is measured and shown, not kept. */
const MOST_KEPT_BYTES = 600_000_000;

const FLV_HEADER = Buffer.from([0x46, 0x4c, 0x56, 1, 5, 0, 0, 0, 9, 0, 0, 0, 0]);

/**
 * One stream from its arrival to its end: kept as it came, measured, and cut into what viewers load.
 *
 *     <dir>/<id>/received.flv    every tag, as it came
 *               /packets.csv     of each tag: kind, time, bytes, key, and when it arrived
 *               /hls/            what the public page plays
 */
export class Arrival {
  readonly startedAtMs = Date.now();
  endedAtMs: number | null = null;
  endedCleanly: boolean | null = null;
  readonly dir: string;
  private readonly meter: HealthMeter;
  private readonly flv: WriteStream;
  private readonly packets: WriteStream;
  private readonly packager: ChildProcess;
  private written = 0;

  constructor(
    readonly id: string,
    root: string,
    rules: EncoderRules,
    private readonly log: Logger,
  ) {
    this.dir = path.join(root, id);
    mkdirSync(path.join(this.dir, 'hls'), { recursive: true });
    dropOld(root);
    this.meter = new HealthMeter(rules);
    this.flv = this.keep('received.flv');
    this.packets = this.keep('packets.csv');
    this.packager = this.startPackager();
    this.pass(FLV_HEADER);
  }

  /** Opened at once: a file whose folder is put away a moment later must not fail afterwards, where nobody looks. */
  private keep(name: string): WriteStream {
    const file = path.join(this.dir, name);
    const stream = createWriteStream(file, { fd: openSync(file, 'w') });
    stream.on('error', (error) => this.log.warn({ err: error, name }, 'not kept'));
    return stream;
  }

  get health(): StreamHealth {
    return this.meter.read();
  }

  take(kind: number, timeMs: number, body: Buffer): void {
    const key = kind === 9 && body[0] === 0x17 && body[1] === 1;
    this.packets.write(`${kind},${timeMs},${body.length},${key ? 1 : 0},${Date.now()}\n`);
    this.meter.take(kind, timeMs, body);
    const head = Buffer.alloc(11);
    head[0] = kind;
    head.writeUIntBE(body.length, 1, 3);
    head.writeUIntBE(timeMs & 0xffffff, 4, 3);
    head[7] = (timeMs >>> 24) & 0xff;
    const foot = Buffer.alloc(4);
    foot.writeUInt32BE(11 + body.length);
    this.pass(Buffer.concat([head, body, foot]));
  }

  end(clean: boolean): void {
    if (this.endedAtMs !== null) return;
    this.endedAtMs = Date.now();
    this.endedCleanly = clean;
    this.flv.end();
    this.packets.end();
    this.packager.stdin?.end();
  }

  private pass(bytes: Buffer): void {
    const pipe = this.packager.stdin!;
    // A packager that does not keep up must not hold up the ingest.
    if (pipe.writable && pipe.writableLength < 20_000_000) pipe.write(bytes);
    this.written += bytes.length;
    if (this.written <= MOST_KEPT_BYTES) this.flv.write(bytes);
  }

  private startPackager(): ChildProcess {
    const hls = [
      '-f',
      'hls',
      '-hls_time',
      '2',
      '-hls_list_size',
      '8',
      '-hls_flags',
      'delete_segments+independent_segments',
    ];
    const read = [
      '-fflags',
      'nobuffer',
      '-probesize',
      '200000',
      '-analyzeduration',
      '500000',
      '-f',
      'flv',
      '-i',
      'pipe:0',
    ];
    const child = spawn(
      'ffmpeg',
      [
        '-hide_banner',
        '-nostdin',
        '-loglevel',
        'error',
        ...read,
        '-c',
        'copy',
        ...hls,
        path.join(this.dir, 'hls', 'index.m3u8'),
      ],
      { stdio: ['pipe', 'ignore', 'pipe'], env: { PATH: process.env['PATH'] } },
    );
    packagers.add(child);
    child.once('close', () => packagers.delete(child));
    child.stdin.on('error', () => undefined);
    child.on('error', (error) => this.log.error({ err: error }, 'packager'));
    child.stderr.on('data', (text: Buffer) =>
      this.log.info({ says: String(text).slice(0, 200) }, 'packager'),
    );
    return child;
  }
}

const packagers = new Set<ChildProcess>();

/** For a place that closes: nothing it started writes any longer than itself. */
export async function endPackagers(): Promise<void> {
  const gone = [...packagers].map((child) => new Promise((done) => child.once('close', done)));
  for (const child of packagers) child.kill('SIGKILL');
  await Promise.all(gone);
}

function dropOld(root: string): void {
  const kept = readdirSync(root).sort();
  for (const name of kept.slice(0, Math.max(0, kept.length - KEPT))) {
    rmSync(path.join(root, name), { recursive: true, force: true });
  }
}
