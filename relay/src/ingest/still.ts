import { spawn } from 'node:child_process';

/** A frame that needs none before it, with its parameter sets. */
export interface Keyframe {
  /** Counts the pictures of an input. */
  readonly number: number;
  readonly units: readonly Uint8Array[];
}

const WIDTH = 640;
const PATIENCE_MS = 4000;
/** No input gets them more often, however many keyframes it has. */
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

  of(inputId: string, keyframe: Keyframe): Promise<Buffer | null> {
    const known = this.made.get(inputId);
    const nowMs = performance.now();
    if (known && (known.number === keyframe.number || nowMs - known.atMs < EVERY_MS)) return known.jpeg;
    const jpeg = this.working.then(() => makeStill(keyframe));
    this.working = jpeg;
    this.made.set(inputId, { number: keyframe.number, atMs: nowMs, jpeg });
    return jpeg;
  }

  forget(inputId: string): void {
    this.made.delete(inputId);
  }
}
