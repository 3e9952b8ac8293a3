import { splitUnits, UNIT, unitKind } from '@juncta/core/media/h264';
import { FRAME_RATE_HZ, type Slate } from '@juncta/core/programme';
import { spawn } from 'node:child_process';

const PATIENCE_MS = 20_000;
/** The dark of the desk at night: a viewer who sees it knows that it is meant. */
const COLOUR = '0x14181f';

/**
 * What fills in while an outside picture is away and no desk has sent the show's own slate: a plain dark picture, made once
 * for each size. Null: ffmpeg could not make it.
 */
export class PlainSlates {
  private readonly made = new Map<string, Promise<Slate | null>>();

  of({ width, height }: { readonly width: number; readonly height: number }): Promise<Slate | null> {
    const size = `${width}x${height}`;
    let slate = this.made.get(size);
    if (!slate) this.made.set(size, (slate = make(size)));
    return slate;
  }
}

async function make(size: string): Promise<Slate | null> {
  const child = spawn(
    'ffmpeg',
    [
      ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-threads', '1'],
      ...['-f', 'lavfi', '-i', `color=c=${COLOUR}:s=${size}:r=${FRAME_RATE_HZ}`, '-t', '1'],
      ...[
        '-c:v',
        'libx264',
        '-preset',
        'veryfast',
        '-profile:v',
        'main',
        '-pix_fmt',
        'yuv420p',
        '-bf',
        '0',
        '-g',
        '30',
      ],
      ...['-bsf:v', 'h264_metadata=aud=insert', '-f', 'h264', 'pipe:1'],
    ],
    { stdio: ['ignore', 'pipe', 'ignore'], env: { PATH: process.env['PATH'] }, timeout: PATIENCE_MS },
  );
  const out: Buffer[] = [];
  child.stdout.on('data', (bytes: Buffer) => out.push(bytes));
  await new Promise<void>((done) => {
    child.on('error', () => done());
    child.on('close', () => done());
  });
  const videoFrames = framesOf(splitUnits(Buffer.concat(out)));
  return videoFrames.length > 0 ? { videoFrames } : null;
}

/** Frames begin at their delimiters. */
function framesOf(units: readonly Uint8Array[]): { key: boolean; units: Uint8Array[] }[] {
  const frames: { key: boolean; units: Uint8Array[] }[] = [];
  for (const unit of units) {
    const kind = unitKind(unit);
    if (kind === UNIT.delimiter) frames.push({ key: false, units: [] });
    else if (kind !== UNIT.sei) frames.at(-1)?.units.push(unit);
    if (kind === UNIT.keySlice && frames.length > 0) frames.at(-1)!.key = true;
  }
  return frames;
}
