import {
  AAC_FRAME_SAMPLES,
  decodeAdts,
  OPUS_PACKET_SAMPLES,
  OPUS_SILENCE,
  OpusPages,
} from '@juncta/core/media/audio';
import { AIRED_AUDIO_KBPS } from '@juncta/core/programme';
import { type ChildProcessByStdio, spawn } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import type { Logger } from 'pino';

const AAC_OUT = ['-c:a', 'aac', '-b:a', `${AIRED_AUDIO_KBPS}k`, '-ar', '48000', '-ac', '2', '-f', 'adts'];

/** ffmpeg's AAC encoder begins with one frame from before the first sample. */
const PRIMING_FRAMES = 1;
/** A longer hole is not filled: the converter begins afresh after it. */
const MOST_FILLED_PACKETS = 250;
/** A converter that dies is begun again after this long. */
const AGAIN_MS = 500;

type Converter = ChildProcessByStdio<Writable, Readable, Readable>;

/**
 * Opus packets of one source in, AAC frames out, through ffmpeg. Times are counted in samples, not taken from
 * ffmpeg: the first packet says where it begins, and every frame is 1,024 further.
 */
export class OpusToAac {
  private child: Converter | null = null;
  private pages = new OpusPages(1);
  private nextPacketAt = 0;
  private nextFrameAt = 0;
  private rest: Uint8Array = new Uint8Array(0);
  private notBeforeMs = 0;
  private closed = false;

  constructor(
    private readonly onFrame: (frame: Uint8Array, at: number) => void,
    private readonly log: Logger,
  ) {}

  /** @param at samples on the source's clock */
  push(packet: Uint8Array, at: number): void {
    if (this.closed) return;
    if (this.child) {
      const missing = Math.round((at - this.nextPacketAt) / OPUS_PACKET_SAMPLES);
      if (missing < 0) return;
      if (missing > MOST_FILLED_PACKETS) this.end();
      else for (let i = 0; i < missing; i++) this.write(OPUS_SILENCE);
    }
    if (!this.child) {
      if (Date.now() < this.notBeforeMs) return;
      this.begin(at);
    }
    this.write(packet);
  }

  close(): void {
    this.closed = true;
    this.end();
  }

  private begin(at: number): void {
    const child = spawn(
      'ffmpeg',
      [...QUIET, ...FROM_PIPE, '-f', 'ogg', '-i', 'pipe:0', ...AAC_OUT, '-flush_packets', '1', 'pipe:1'],
      {
        stdio: ['pipe', 'pipe', 'pipe'],
        env: { PATH: process.env['PATH'] },
      },
    );
    this.child = child;
    this.pages = new OpusPages(1);
    this.rest = new Uint8Array(0);
    this.nextPacketAt = at;
    this.nextFrameAt = at - PRIMING_FRAMES * AAC_FRAME_SAMPLES;
    child.stdout.on('data', (bytes: Buffer) => {
      if (child === this.child) this.take(bytes);
    });
    child.stderr.on('data', (text: Buffer) =>
      this.log.warn({ says: String(text).slice(0, 300) }, 'sound converter'),
    );
    child.stdin.on('error', () => undefined);
    child.on('error', (error) => this.log.error({ err: error }, 'the sound converter could not be started'));
    child.on('close', () => {
      if (child !== this.child) return;
      this.child = null;
      this.notBeforeMs = Date.now() + AGAIN_MS;
      if (!this.closed) this.log.warn('the sound converter ended and is begun again');
    });
    child.stdin.write(this.pages.headers());
  }

  private end(): void {
    const { child } = this;
    this.child = null;
    child?.stdin.end();
    child?.kill('SIGTERM');
  }

  private write(packet: Uint8Array): void {
    this.child?.stdin.write(this.pages.packet(packet));
    this.nextPacketAt += OPUS_PACKET_SAMPLES;
  }

  private take(bytes: Uint8Array): void {
    const all = this.rest.length === 0 ? bytes : Buffer.concat([this.rest, bytes]);
    const { frames, consumed } = decodeAdts(all);
    this.rest = all.subarray(consumed);
    for (const frame of frames) {
      this.onFrame(frame, this.nextFrameAt);
      this.nextFrameAt += AAC_FRAME_SAMPLES;
    }
  }
}

const QUIET = ['-hide_banner', '-nostdin', '-loglevel', 'error', '-threads', '1'];
// Without `-fflags nobuffer`, which drops the packets that it looked at: 20 ms of audio would be missing at once.
const FROM_PIPE = ['-probesize', '32', '-analyzeduration', '0', '-protocol_whitelist', 'pipe'];

export interface Silence {
  /** One frame of silence, as our converter makes it. */
  readonly frame: Uint8Array;
  /** AudioSpecificConfig: what a receiver needs to read it. */
  readonly config: Uint8Array;
}

/** Half a second of nothing through the same encoder: its frames fit between the others. */
export function makeSilence(): Promise<Silence> {
  const source = ['-f', 'lavfi', '-i', 'anullsrc=r=48000:cl=stereo', '-t', '0.5'];
  const child = spawn('ffmpeg', [...QUIET, ...source, ...AAC_OUT, 'pipe:1'], {
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { PATH: process.env['PATH'] },
  });
  const out: Buffer[] = [];
  const says: Buffer[] = [];
  child.stdout.on('data', (bytes: Buffer) => out.push(bytes));
  child.stderr.on('data', (bytes: Buffer) => says.push(bytes));
  return new Promise((done, failed) => {
    child.on('error', () => failed(new Error('ffmpeg is needed for the sound and could not be started')));
    child.on('close', () => {
      const { frames, config } = decodeAdts(Buffer.concat(out));
      // The first frames still hold the encoder's beginning.
      const frame = frames[frames.length >> 1];
      if (frame && config) done({ frame: frame.slice(), config });
      else failed(new Error(`ffmpeg made no silence: ${Buffer.concat(says).toString().slice(0, 300)}`));
    });
  });
}
