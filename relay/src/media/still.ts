import { isConfiguration, TAG, type FlvTag } from '@juncta/core/media/flv';
import { findParameterSets, readConfigurationRecord, splitLengths } from '@juncta/core/media/h264';
import { spawn } from 'node:child_process';

/** A frame that needs none before it, with its parameter sets. */
export interface Keyframe {
  /** Counts the pictures of what it is one of. */
  readonly number: number;
  readonly units: readonly Uint8Array[];
}

export const isConfigurationOfVideo = (tag: FlvTag): boolean =>
  tag.kind === TAG.videoFrame && isConfiguration(tag);

/** Before a frame, or a configuration, stand five bytes: codec, kind of packet, and the composition offset. */
const BODY_AT = 5;

/** Of tags that hold H.264; null: they are damaged. */
export function keyframeOf(configuration: FlvTag, keyframe: FlvTag, number: number): Keyframe | null {
  try {
    const units = splitLengths(keyframe.body.subarray(BODY_AT));
    const { sps, pps } =
      findParameterSets(units) ?? readConfigurationRecord(configuration.body.subarray(BODY_AT));
    return { number, units: [sps, pps, ...units] };
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    return null;
  }
}

const WIDTH = 640;
const PATIENCE_MS = 4000;
/** Nothing gets them more often, however many keyframes it has. */
const EVERY_MS = 1500;
const START_CODE = Uint8Array.of(0, 0, 0, 1);

/** A small picture of a keyframe, JPEG; null: it could not be made. */
export function makeStill({ units }: Keyframe): Promise<Buffer | null> {
  const child = spawn(
    'ffmpeg',
    [
      ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-threads', '1', '-protocol_whitelist', 'pipe'],
      ...[
        '-f',
        'h264',
        '-i',
        'pipe:0',
        '-frames:v',
        '1',
        '-vf',
        `scale=${WIDTH}:-2`,
        '-q:v',
        '4',
        '-f',
        'mjpeg',
        'pipe:1',
      ],
    ],
    { stdio: ['pipe', 'pipe', 'ignore'], env: { PATH: process.env['PATH'] }, timeout: PATIENCE_MS },
  );
  const out: Buffer[] = [];
  child.stdout.on('data', (bytes: Buffer) => out.push(bytes));
  child.stdin.on('error', () => undefined);
  child.stdin.end(Buffer.concat(units.flatMap((unit) => [START_CODE, unit])));
  return new Promise((done) => {
    child.on('error', () => done(null));
    child.on('close', () => done(out.length > 0 ? Buffer.concat(out) : null));
  });
}

/** One after the other, and each picture once, however many look. */
export class Stills {
  private working: Promise<unknown> = Promise.resolve();
  private readonly made = new Map<
    string,
    { readonly number: number; readonly atMs: number; readonly jpeg: Promise<Buffer | null> }
  >();

  of(id: string, keyframe: Keyframe): Promise<Buffer | null> {
    const known = this.made.get(id);
    const nowMs = performance.now();
    if (known && (known.number === keyframe.number || nowMs - known.atMs < EVERY_MS)) return known.jpeg;
    const jpeg = this.working.then(() => makeStill(keyframe));
    this.working = jpeg;
    this.made.set(id, { number: keyframe.number, atMs: nowMs, jpeg });
    return jpeg;
  }

  forget(id: string): void {
    this.made.delete(id);
  }
}
