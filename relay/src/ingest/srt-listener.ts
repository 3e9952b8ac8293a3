import type { InputsRequest } from '@juncta/contract/relay';
import { KEYFRAME_INTERVAL_S } from '@juncta/core/programme';
import { type ChildProcess, spawn } from 'node:child_process';
import { closeSync } from 'node:fs';
import type { Logger } from 'pino';
import { FlvPipe } from '../media/flv-pipe';
import { namelessFile } from '../media/nameless-file';
import type { EncoderLine, Input } from './input';

export type SrtBooking = NonNullable<InputsRequest['inputs'][number]['srt']>;

/** It listens again so soon after an encoder has gone: one that is back is not to find a closed door. */
const AGAIN_MS = 200;
/** A listener that could not even begin, its port taken by another program, is begun again so much later. */
const AFTER_FAILURE_MS = 3000;
/** Nothing came for so long: the encoder is gone, whatever SRT still hopes for. */
const SILENCE_US = 2_000_000;
/** Then it listens anew: one that a relay left behind when it was killed is not to hold its port for ever. */
const LISTEN_US = 8_000_000;
/** How long what is lost may be asked for again. */
const LATENCY_US = 200_000;

/**
 * An input to which encoders come by SRT: one ffmpeg that listens at a port of its own, lets in who has the passphrase, one
 * at a time, and hands on what comes without encoding it. Video that FLV cannot carry is made H.264 from the next call on.
 */
export class SrtListener implements EncoderLine {
  readonly isSecure = true;
  private child: ChildProcess | null = null;
  private again: NodeJS.Timeout | undefined;
  private isClosed = false;
  private isHere = false;
  private converts = false;
  private says = '';

  constructor(
    private readonly input: Input,
    readonly booking: SrtBooking,
    private readonly host: string,
    private readonly log: Logger,
  ) {
    this.listen();
  }

  /** It goes, and may call again. */
  end(): void {
    this.child?.kill('SIGKILL');
  }

  close(): void {
    this.isClosed = true;
    clearTimeout(this.again);
    this.child?.kill('SIGKILL');
    this.leave();
  }

  private listen(): void {
    const options = new URLSearchParams({
      mode: 'listener',
      passphrase: this.booking.passphrase,
      latency: String(LATENCY_US),
      listen_timeout: String(LISTEN_US),
      timeout: String(SILENCE_US),
    });
    const host = this.host.includes(':') ? `[${this.host}]` : this.host;
    const list = namelessFile(
      `ffconcat version 1.0\nfile 'srt://${host}:${this.booking.port}?${options.toString()}'\n`,
    );
    const pipe = new FlvPipe();
    const began = performance.now();
    this.says = '';
    let child: ChildProcess;
    try {
      child = spawn('ffmpeg', argumentsFor(this.converts, this.input.wanted.rateHz), {
        stdio: ['ignore', 'pipe', 'pipe', list],
        env: { PATH: process.env['PATH'] },
      });
    } finally {
      closeSync(list);
    }
    this.child = child;
    child.stdout!.on('data', (bytes: Buffer) => {
      const tags = this.isClosed ? [] : pipe.read(bytes);
      if (tags === null) child.kill('SIGKILL');
      for (const tag of tags ?? []) {
        if (!this.isHere) this.input.begin(this);
        this.isHere = true;
        this.input.take(tag, this);
      }
    });
    child.stderr!.on('data', (text: Buffer) => this.hear(String(text)));
    child.on('error', (error) => this.log.error({ err: error }, 'a listener for SRT could not be started'));
    child.on('close', () => {
      const wasHere = this.isHere;
      this.leave();
      if (this.isClosed) return;
      const failed = !wasHere && performance.now() - began < AFTER_FAILURE_MS && !this.converts;
      if (failed) this.log.warn({ says: this.says.trim().slice(-300) }, 'a listener for SRT ended at once');
      this.again = setTimeout(() => this.listen(), failed ? AFTER_FAILURE_MS : AGAIN_MS);
    });
  }

  private hear(text: string): void {
    this.says = (this.says + text).slice(-2000);
    if (/BADSECRET|Incorrect passphrase/.test(text)) this.input.knock(Date.now());
    if (/Video codec \w+ not compatible with flv/.test(this.says)) this.converts = true;
  }

  private leave(): void {
    if (!this.isHere) return;
    this.isHere = false;
    this.input.leave(this);
  }
}

/** Out of MPEG-TS into FLV, as it comes. Where it listens stands in a file, so that no argument list shows the passphrase. */
function argumentsFor(converts: boolean, rateHz: number): string[] {
  const keyframes = String(rateHz * KEYFRAME_INTERVAL_S);
  const video = converts
    ? [
        ...['-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'zerolatency', '-pix_fmt', 'yuv420p'],
        ...['-bf', '0', '-g', keyframes, '-keyint_min', keyframes, '-sc_threshold', '0'],
      ]
    : ['-c:v', 'copy'];
  return [
    ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-protocol_whitelist', 'srt,udp,file'],
    ...['-probesize', '500000', '-analyzeduration', '1000000', '-f', 'concat', '-safe', '0'],
    ...['-i', '/dev/fd/3', '-map', '0:v:0', '-map', '0:a:0?', ...video, '-c:a', 'copy'],
    ...['-f', 'flv', '-flvflags', 'no_duration_filesize+no_sequence_end', '-flush_packets', '1', 'pipe:1'],
  ];
}
