import { encodeTag, FLV_HEADER, type FlvTag } from '@juncta/core/media/flv';
import type { SrtAddress, SrtKey } from '@juncta/core/media/srt';
import { spawn, type ChildProcess } from 'node:child_process';
import { closeSync } from 'node:fs';
import { isIPv6 } from 'node:net';
import type { Writable } from 'node:stream';
import { namelessFile } from '../media/nameless-file';
import { ANSWER_PATIENCE_MS, type ConnectionEvent, type FeedConnection } from './connection';
import { Progress } from './progress';

/** What may wait on the way into ffmpeg. The rest waits in the feed's queue, where it can be left out. */
const PIPE_BYTES = 256 * 1024;
/** Once the last byte has gone in, so long for it to come out again and be taken over there. */
const FAREWELL_MS = 3000;
/** What is on its way when all has been written: ffmpeg's own part of it, and the line's. */
const UNDER_WAY_MS = 300;
/** SRT's own patience with a place that says nothing to a greeting. */
const GREETING_MS = 4000;
/** Bytes of MPEG-TS in a packet: seven of its own packets, as everybody who speaks SRT does. */
const PACKET_BYTES = 1316;

/**
 * One SRT connection to one place, through ffmpeg, which copies and re-encodes nothing. Stream id and passphrase reach
 * it in a file without a name: an argument list can be read by everybody on the machine.
 */
export class SrtConnection implements FeedConnection {
  private readonly child: ChildProcess;
  private readonly into: Writable;
  private readonly answerTimer: NodeJS.Timeout;
  private over = false;
  private accepted = false;
  private written = 0;
  private readonly progress = new Progress();
  private says = '';
  private readonly latencyMs: number;

  /** @param ip where `address.host` was found to be */
  constructor(
    address: SrtAddress,
    key: SrtKey,
    ip: string,
    private readonly report: (event: ConnectionEvent) => void,
  ) {
    this.latencyMs = address.latencyMs;
    const secret = openSecret(key);
    try {
      this.child = spawn('ffmpeg', argumentsFor(address, ip, secret !== null), {
        stdio: ['pipe', 'pipe', 'pipe', ...(secret === null ? [] : [secret])],
        env: { PATH: process.env['PATH'] },
      });
    } finally {
      if (secret !== null) closeSync(secret);
    }
    this.into = this.child.stdin!;
    this.into.on('error', () => undefined);
    this.child.stdout!.on('data', (text: Buffer) => this.hear(String(text)));
    this.child.stderr!.on('data', (text: Buffer) => {
      this.says = (this.says + String(text)).slice(-4000);
    });
    this.child.on('error', () =>
      this.lose('no_answer', 'ffmpeg, which speaks SRT for us, could not be started'),
    );
    this.child.on('close', () => this.ended());
    this.answerTimer = setTimeout(
      () => this.lose('no_answer', 'the place did not answer in time'),
      ANSWER_PATIENCE_MS,
    );
    this.write(FLV_HEADER);
    // ffmpeg dials when it has seen a frame.
    queueMicrotask(() => {
      if (!this.over) this.report({ type: 'wants_programme' });
    });
  }

  get room(): number {
    return Math.max(0, PIPE_BYTES - this.into.writableLength);
  }

  get sentBytes(): number {
    return this.written - this.into.writableLength;
  }

  send(tags: readonly FlvTag[], zeroMs: number): void {
    if (this.over) return;
    for (const tag of tags) this.write(encodeTag({ ...tag, timeMs: tag.timeMs - zeroMs }));
  }

  watch(nowMs: number): void {
    if (this.progress.stalls(nowMs, this.sentBytes, this.into.writableLength))
      this.lose('no_answer', 'the place has stopped taking our stream');
  }

  hangUp(clean: boolean): void {
    if (this.over) return;
    this.finish();
    if (!clean) {
      this.child.kill('SIGKILL');
      return;
    }
    // Whoever receives throws away what it still holds back when the connection is closed.
    const playedMs = this.latencyMs + UNDER_WAY_MS;
    setTimeout(() => this.into.end(), playedMs).unref();
    setTimeout(() => this.child.kill('SIGKILL'), playedMs + FAREWELL_MS).unref();
  }

  private write(bytes: Uint8Array): void {
    this.into.write(bytes);
    this.written += bytes.length;
  }

  /** ffmpeg tells how much it has brought out; the first of it means that the place has said yes. */
  private hear(text: string): void {
    if (this.accepted || this.over || !/^total_size=[1-9]/m.test(text)) return;
    this.accepted = true;
    clearTimeout(this.answerTimer);
    this.progress.begin(Date.now());
    this.report({ type: 'publishing' });
  }

  private ended(): void {
    if (this.over) return;
    const refusal = refusalIn(this.says);
    if (refusal === null) {
      if (this.accepted) this.lose('lost_connection', 'the place closed the connection');
      else this.lose('no_answer', 'nobody there answers to SRT');
      return;
    }
    this.finish();
    const reason = /passphrase|encryption/i.test(refusal) ? 'refused_key' : 'refused_other';
    this.report({ type: 'refused', reason, placeSays: refusal });
  }

  private lose(reason: 'lost_connection' | 'no_answer', why: string): void {
    if (this.over) return;
    this.finish();
    this.child.kill('SIGKILL');
    this.report({ type: 'lost', reason, why });
  }

  private finish(): void {
    this.over = true;
    clearTimeout(this.answerTimer);
  }
}

/** Why the other side said no to the greeting, in the words of SRT; null: it did not. */
export function refusalIn(says: string): string | null {
  return /REJECT reported from HS processing: (.+?)(?: - not processing| *$)/m.exec(says)?.[1] ?? null;
}

function argumentsFor({ port, latencyMs }: SrtAddress, ip: string, hasSecret: boolean): string[] {
  const options = new URLSearchParams({
    mode: 'caller',
    transtype: 'live',
    latency: String(latencyMs * 1000),
    connect_timeout: String(GREETING_MS),
    pkt_size: String(PACKET_BYTES),
  });
  return [
    ...['-hide_banner', '-nostdin', '-nostats', '-loglevel', 'error', '-threads', '1'],
    ...['-progress', 'pipe:1', '-stats_period', '0.5'],
    ...[
      '-probesize',
      '200000',
      '-analyzeduration',
      '500000',
      '-protocol_whitelist',
      'pipe',
      '-f',
      'flv',
      '-i',
      'pipe:0',
    ],
    ...['-map', '0:v:0', '-map', '0:a:0?', '-c', 'copy', '-flush_packets', '1', '-muxdelay', '0'],
    // What goes in is in order already. Held back until its neighbour comes, the last frame would go out with the
    // connection's end, and half of it arrive.
    ...['-max_interleave_delta', '1'],
    ...(hasSecret ? ['-fpre', '/dev/fd/3'] : []),
    ...['-f', 'mpegts', `srt://${isIPv6(ip) ? `[${ip}]` : ip}:${port}?${options.toString()}`],
  ];
}

function openSecret({ streamId, passphrase }: SrtKey): number | null {
  const lines = [
    ...(streamId === '' ? [] : [`srt_streamid=${streamId}`]),
    ...(passphrase === '' ? [] : [`passphrase=${passphrase}`]),
  ];
  return lines.length === 0 ? null : namelessFile(`${lines.join('\n')}\n`);
}
