import { MOVING_OVERLAY, OVERLAY_MAX_MS, readMovingPicture } from '@juncta/core/dressing';
import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import * as z from 'zod/mini';
import { badInput } from '../http/errors';
import type { ReadImage } from './read-image';

const run = promisify(execFile);

/** Of one that is made: heavier, and every desk would be held up by getting it. */
const MOST_BYTES = 8 * 1024 * 1024;
/** Larger ones are none that somebody made for a programme. */
const MOST_PIXELS = 3840 * 2160;
const LOOK_MS = 10_000;
const MAKE_MS = 90_000;
const QUALITY = 80;
/** Nothing but the file itself is opened, whatever it names. */
const CLOSED = ['-v', 'error', '-protocol_whitelist', 'file'];
/** Alone they read what is seen through a picture. */
const DECODERS: Readonly<Record<string, string>> = { vp8: 'libvpx', vp9: 'libvpx-vp9' };

type MovingProblem =
  'no_picture' | 'codec' | 'too_long' | 'too_many_pixels' | 'too_heavy' | 'too_slow' | 'busy' | 'broken';
const SENTENCES: Record<MovingProblem, string> = {
  no_picture: 'This file is no WebM that can be read. Save it once more.',
  codec: 'This WebM is written in a way that has nothing to see through. VP8 and VP9 can be used.',
  too_long: `This motion is longer than ${OVERLAY_MAX_MS / 1000} s. Cut it shorter: an overlay repeats by itself.`,
  too_many_pixels: 'This motion has more pixels than 3840 by 2160. Save it smaller.',
  too_heavy:
    'This motion is too rich: even made smaller it is heavier than 8 MB. Cut it shorter, or save it smaller.',
  too_slow: `This motion was not ready within ${MAKE_MS / 1000} s. Cut it shorter, or save it smaller.`,
  busy: 'Other motions are being made ready. Send this one again in a minute.',
  broken: 'This motion is not whole: it breaks off, or something in it is damaged. Save it once more.',
};

/** EBML, and by its own word WebM (RFC 8794, RFC 9559). */
export const isWebm = (file: Buffer): boolean =>
  file.length > 64 && file.readUInt32BE(0) === 0x1a45dfa3 && file.subarray(0, 64).includes('webm');

const Probed = z.object({
  streams: z
    .array(z.object({ codec_name: z.string(), width: z.int(), height: z.int() }))
    .check(z.minLength(1)),
  format: z.object({ duration: z.string() }),
});

/** One at a time: making one takes a whole core, and there may be a show on. */
let last: Promise<unknown> = Promise.resolve();
let waiting = 0;
const MOST_WAITING = 4;

/**
 * A motion with what is seen through it, made of a WebM: a WebP that moves, which a composing worker can decode. Nothing of the
 * file is kept as it came. What it is not taken for is a refusal.
 */
export async function readMoving(file: Buffer): Promise<ReadImage> {
  if (waiting >= MOST_WAITING) throw refuse('busy');
  waiting += 1;
  const made = last.then(() => make(file));
  last = made.catch(() => undefined);
  try {
    return await made;
  } finally {
    waiting -= 1;
  }
}

async function make(file: Buffer): Promise<ReadImage> {
  const room = await mkdtemp(path.join(tmpdir(), 'juncta-overlay-'));
  const [came, made] = [path.join(room, 'came.webm'), path.join(room, 'made.webp')];
  try {
    await writeFile(came, file);
    await convert(came, await decoderFor(came), made);
    const bytes = await readFile(made);
    if (bytes.length > MOST_BYTES) throw refuse('too_heavy');
    return await readMade(bytes);
  } finally {
    await rm(room, { recursive: true, force: true });
  }
}

async function decoderFor(file: string): Promise<string> {
  const wanted = 'stream=codec_name,width,height:format=duration';
  const args = [
    ...CLOSED,
    ...words(`-f matroska -select_streams v:0 -of json -show_entries ${wanted}`),
    file,
  ];
  const probed = await run('ffprobe', args, { timeout: LOOK_MS })
    .then(({ stdout }) => Probed.safeParse(JSON.parse(stdout)))
    .catch(() => null);
  if (!probed?.success) throw refuse('no_picture');
  const { codec_name, width, height } = probed.data.streams[0]!;
  const decoder = DECODERS[codec_name];
  if (decoder === undefined) throw refuse('codec');
  if (width * height > MOST_PIXELS) throw refuse('too_many_pixels');
  // What it says of its length is looked at once more when it is made.
  if (Number(probed.data.format.duration) * 1000 > OVERLAY_MAX_MS) throw refuse('too_long');
  return decoder;
}

async function convert(from: string, decoder: string, to: string): Promise<void> {
  const { width, height, rateHz } = MOVING_OVERLAY;
  const fit = `scale='min(${width},iw)':'min(${height},ih)':force_original_aspect_ratio=decrease`;
  const input = [...words(`-threads 1 -f matroska -c:v ${decoder}`), '-i', from];
  const picture = [...words('-an -sn -map_metadata -1 -pix_fmt yuva420p'), '-vf', `fps=${rateHz},${fit}`];
  const output = words(`-c:v libwebp_anim -quality ${QUALITY} -compression_level 2 -loop 0`);
  const bounds = words(`-t ${OVERLAY_MAX_MS / 1000} -fs ${2 * MOST_BYTES} -f webp`);
  const args = ['-nostdin', ...CLOSED, '-xerror', ...input, ...picture, ...output, ...bounds, to];
  try {
    // Whatever is composed on this machine goes first.
    await run('nice', ['-n', '10', 'ffmpeg', ...args], { timeout: MAKE_MS, killSignal: 'SIGKILL' });
  } catch (error) {
    throw refuse((error as { killed?: boolean }).killed ? 'too_slow' : 'broken');
  }
}

const words = (line: string): string[] => line.split(' ');

/** A motion that was made here, or in another house. */
export async function readMade(bytes: Buffer): Promise<ReadImage> {
  const moving = readMovingPicture(bytes);
  if (!moving) throw refuse('broken');
  await sharp(bytes, { failOn: 'error' })
    .stats()
    .catch(() => {
      throw refuse('broken');
    });
  const { width, height, lengthMs } = moving;
  return { width, height, lengthMs, type: 'image/webp', bytes };
}

const refuse = (code: MovingProblem) => badInput([{ field: 'picture', code, sentence: SENTENCES[code] }]);
