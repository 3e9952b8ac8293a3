import type { Carriage, IngestWants } from '@juncta/core/ingest';
import { encodeTag, FLV_HEADER, type FlvTag } from '@juncta/core/media/flv';
import { AIRED_AUDIO_KBPS, KEYFRAME_INTERVAL_S, SAMPLE_RATE_HZ } from '@juncta/core/programme';
import { type ChildProcessByStdio, spawn } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import type { Logger } from 'pino';
import { FlvPipe } from '../media/flv-pipe';

/** What may wait for a converter that does not keep pace; beyond it the newest is left out until the next keyframe. */
const MOST_WAITING_BYTES = 8 * 1024 * 1024;

/**
 * Makes an outside picture fit the show's format: tags in, tags out, through one ffmpeg that encodes what has to be made
 * anew and copies the rest.
 */
export class Fitting {
  private readonly child: ChildProcessByStdio<Writable, Readable, Readable>;
  private readonly pipe = new FlvPipe();
  private isClosed = false;
  private leftOut = false;

  /**
   * @param heads configurations that it has to know before the first frame
   */
  constructor(
    carriage: Carriage,
    wants: IngestWants,
    heads: readonly FlvTag[],
    private readonly log: Logger,
    private readonly on: {
      /** What came out; the body may be kept. */
      tag(tag: FlvTag): void;
      /** It died, or could not be started. */
      ended(): void;
    },
  ) {
    const child = spawn('ffmpeg', argumentsFor(carriage, wants), {
      stdio: ['pipe', 'pipe', 'pipe'],
      env: { PATH: process.env['PATH'] },
    });
    this.child = child;
    child.stdout.on('data', (bytes: Buffer) => this.read(bytes));
    let says = '';
    child.stderr.on('data', (text: Buffer) => (says = (says + String(text)).slice(-1000)));
    child.stdin.on('error', () => undefined);
    child.on('error', (error) =>
      log.error({ err: error }, 'the converter of an outside picture could not be started'),
    );
    child.on('close', (code) => {
      if (this.isClosed) return;
      this.isClosed = true;
      log.warn({ code, says: says.trim().slice(-300) }, 'the converter of an outside picture ended');
      this.on.ended();
    });
    child.stdin.write(FLV_HEADER);
    for (const tag of heads) child.stdin.write(encodeTag(tag));
  }

  push(tag: FlvTag, isKey: boolean): void {
    if (this.isClosed) return;
    if (this.child.stdin.writableLength > MOST_WAITING_BYTES) {
      if (!this.leftOut) this.log.warn('the machine does not keep pace with an outside picture');
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
    this.log.warn('the converter of an outside picture wrote what is no tag');
    this.close();
    this.on.ended();
  }
}

/** Video of the programme's size and rate, keyframes as often as places want them, nothing shown out of its order. */
function argumentsFor(carriage: Carriage, { width, height, rateHz, mostKbps }: IngestWants): string[] {
  const keyframes = rateHz * KEYFRAME_INTERVAL_S;
  const shape = [
    'yadif=deint=interlaced',
    `scale=${width}:${height}:force_original_aspect_ratio=decrease`,
    `pad=${width}:${height}:-1:-1`,
    'setsar=1',
    `fps=${rateHz}`,
  ];
  const video = carriage.video
    ? [
        ...['-vf', shape.join(','), '-c:v', 'libx264', '-preset', 'veryfast', '-tune', 'zerolatency'],
        ...['-pix_fmt', 'yuv420p', '-profile:v', 'main', '-bf', '0'],
        ...['-g', `${keyframes}`, '-keyint_min', `${keyframes}`, '-sc_threshold', '0'],
        ...['-b:v', `${mostKbps}k`, '-maxrate', `${mostKbps}k`, '-bufsize', `${mostKbps}k`],
      ]
    : ['-c:v', 'copy'];
  const audio = carriage.audio
    ? [
        '-af',
        'aresample=async=1',
        '-c:a',
        'aac',
        '-b:a',
        `${AIRED_AUDIO_KBPS}k`,
        '-ar',
        `${SAMPLE_RATE_HZ}`,
        '-ac',
        '2',
      ]
    : ['-c:a', 'copy'];
  return [
    ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-protocol_whitelist', 'pipe'],
    // What it has to know stands in the first tags.
    ...['-probesize', '200000', '-analyzeduration', '500000', '-f', 'flv', '-i', 'pipe:0'],
    ...['-map', '0:v:0', '-map', '0:a:0?', ...video, ...audio],
    ...['-f', 'flv', '-flvflags', 'no_duration_filesize+no_sequence_end', '-flush_packets', '1', 'pipe:1'],
  ];
}
