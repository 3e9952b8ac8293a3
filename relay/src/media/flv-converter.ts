import { encodeTag, flvHeader, type FlvTag } from '@juncta/core/media/flv';
import { type ChildProcessByStdio, spawn } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import type { Logger } from 'pino';
import { FlvPipe } from './flv-pipe';

/** What may wait for a converter that does not keep pace; beyond it the newest is left out until the next keyframe. */
const MOST_WAITING_BYTES = 8 * 1024 * 1024;

/** FLV from and to a pipe, and nothing else that ffmpeg could reach. */
export const FLV_IN = ['-hide_banner', '-nostdin', '-loglevel', 'error', '-protocol_whitelist', 'pipe'];
export const FLV_OUT = [
  ...['-f', 'flv', '-flvflags', 'no_duration_filesize+no_sequence_end', '-flush_packets', '1', 'pipe:1'],
];

export interface Conversion {
  /** What it is, for the log: `an outside picture`. */
  readonly of: string;
  readonly args: readonly string[];
  readonly hasAudio: boolean;
  /** Configurations that it has to know before the first frame. */
  readonly heads: readonly FlvTag[];
}

/** Tags in, tags out, through one ffmpeg that encodes what has to be made anew. */
export class FlvConverter {
  private readonly child: ChildProcessByStdio<Writable, Readable, Readable>;
  private readonly pipe = new FlvPipe();
  private isClosed = false;
  private leftOut = false;

  constructor(
    private readonly conversion: Conversion,
    private readonly log: Logger,
    private readonly on: {
      /** What came out; the body may be kept. */
      tag(tag: FlvTag): void;
      /** It died, or could not be started. */
      ended(): void;
    },
  ) {
    const { of, args, heads, hasAudio } = conversion;
    const child = spawn('ffmpeg', args, {
      stdio: ['pipe', 'pipe', 'pipe'],
      env: { PATH: process.env['PATH'] },
    });
    this.child = child;
    child.stdout.on('data', (bytes: Buffer) => this.read(bytes));
    let says = '';
    child.stderr.on('data', (text: Buffer) => (says = (says + String(text)).slice(-1000)));
    child.stdin.on('error', () => undefined);
    child.on('error', (error) => log.error({ err: error }, `the converter of ${of} could not be started`));
    child.on('close', (code) => {
      if (this.isClosed) return;
      this.isClosed = true;
      log.warn({ code, says: says.trim().slice(-300) }, `the converter of ${of} ended`);
      this.on.ended();
    });
    child.stdin.write(flvHeader({ hasAudio }));
    for (const tag of heads) child.stdin.write(encodeTag(tag));
  }

  /** Null: it could not be started. */
  get pid(): number | null {
    return this.child.pid ?? null;
  }

  push(tag: FlvTag, isKey: boolean): void {
    if (this.isClosed) return;
    if (this.child.stdin.writableLength > MOST_WAITING_BYTES) {
      if (!this.leftOut) this.log.warn(`the machine does not keep pace with ${this.conversion.of}`);
      this.leftOut = true;
    } else if (isKey) this.leftOut = false;
    if (!this.leftOut) this.child.stdin.write(encodeTag(tag));
  }

  close(): void {
    if (this.isClosed) return;
    this.isClosed = true;
    this.child.stdin.end();
    this.child.kill('SIGKILL');
  }

  private read(bytes: Buffer): void {
    if (this.isClosed) return;
    const tags = this.pipe.read(bytes);
    for (const tag of tags ?? []) this.on.tag(tag);
    if (tags !== null) return;
    this.log.warn(`the converter of ${this.conversion.of} wrote what is no tag`);
    this.close();
    this.on.ended();
  }
}
