import { widthOf, type EncodeCost } from '@juncta/core/renditions';
import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { encoderOf, filtersOf } from './encoding';

/** Of the clip that is measured by. */
const SECONDS = 3;
const [HEIGHT, RATE_HZ] = [720, 30];
const SMALLER = 480;
const PATIENCE_MS = 60_000;

/**
 * What encoding takes on this machine, with the arguments of a real rendition: a grainy picture, which is the worst that a
 * camera sends, is decoded; decoded and encoded; and decoded, made smaller and encoded. Throws where ffmpeg does not do it.
 */
export async function measureEncodeCost(): Promise<EncodeCost> {
  const dir = await mkdtemp(path.join(tmpdir(), 'juncta-encode-'));
  try {
    const clip = path.join(dir, 'clip.flv');
    const grainy = `testsrc2=s=${widthOf(HEIGHT)}x${HEIGHT}:r=${RATE_HZ},noise=alls=12:allf=t`;
    const rate = { shape: 'landscape' as const, rateHz: RATE_HZ, oneIn: 1, videoKbps: 3500, keyframeS: 2 };
    await cpuMs([
      ...['-f', 'lavfi', '-i', grainy, '-t', String(SECONDS)],
      ...[...encoderOf({ height: HEIGHT, ...rate }), '-f', 'flv', clip],
    ]);
    const decode = await cpuMs([...DECODE, '-i', clip, '-f', 'null', '-']);
    const encoded = (height: number) => {
      const what = { height, ...rate };
      return cpuMs([...DECODE, '-i', clip, '-vf', filtersOf(what), ...encoderOf(what), '-f', 'null', '-']);
    };
    const same = await encoded(HEIGHT);
    const smaller = await encoded(SMALLER);
    const megapixels = (height: number) => (widthOf(height) * height * RATE_HZ * SECONDS) / 1e6;
    const encode = (same - decode) / megapixels(HEIGHT);
    const scale = (smaller - decode - encode * megapixels(SMALLER)) / megapixels(HEIGHT);
    return {
      decode: atLeast(decode / megapixels(HEIGHT)),
      scale: atLeast(scale),
      encode: atLeast(encode),
    };
  } finally {
    await rm(dir, { recursive: true, force: true });
  }
}

const DECODE = ['-threads', '1'];

/** Three digits; and never nothing, however little a run took. */
const atLeast = (ms: number): number => Math.max(0.1, Math.round(ms * 1000) / 1000);

/** CPU of one run of ffmpeg, as it says itself: of all its threads. */
function cpuMs(args: readonly string[]): Promise<number> {
  const child = spawn('ffmpeg', ['-hide_banner', '-nostdin', '-benchmark', '-y', ...args], {
    stdio: ['ignore', 'ignore', 'pipe'],
    env: { PATH: process.env['PATH'] },
    timeout: PATIENCE_MS,
    killSignal: 'SIGKILL',
  });
  let says = '';
  child.stderr.on('data', (text: Buffer) => (says = (says + String(text)).slice(-4000)));
  return new Promise((done, failed) => {
    child.on('error', failed);
    child.on('close', () => {
      const found = /bench: utime=([\d.]+)s stime=([\d.]+)s/.exec(says);
      if (found) done((Number(found[1]) + Number(found[2])) * 1000);
      else failed(new Error(`ffmpeg did not encode: ${says.trim().slice(-300)}`));
    });
  });
}
