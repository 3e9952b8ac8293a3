import { spawn } from 'node:child_process';
import { existsSync, readFileSync, renameSync } from 'node:fs';
import path from 'node:path';
import { draw, FRAMES_PER_S, GUESTS, HEIGHT, WIDTH } from './face';
import { loudness, LOOP_S, SAMPLE_RATE_HZ, speak } from './voice';

/** What a made-up guest sends, over and over: encoded once, and kept. */
export interface Clip {
  /** VP8 pictures, {@link FRAMES_PER_S} of them in a second; a keyframe every second. */
  readonly pictures: readonly Buffer[];
  /** Opus packets of 20 ms. */
  readonly sounds: readonly Buffer[];
}

const clips = new Map<number, Promise<Clip>>();

/** Made when first asked for; whoever asks in between waits for the same. One that went wrong is tried again. */
export function clipOf(index: number, dir: string): Promise<Clip> {
  const known = clips.get(index);
  if (known) return known;
  const made = make(index, dir);
  clips.set(index, made);
  made.catch(() => clips.delete(index));
  return made;
}

/** Where they are once the clip was made. */
export const filesOf = (index: number, dir: string): { pictures: string; sounds: string } => ({
  pictures: path.join(dir, `guest-${index}.ivf`),
  sounds: path.join(dir, `guest-${index}.ogg`),
});

async function make(index: number, dir: string): Promise<Clip> {
  const { pictures, sounds } = filesOf(index, dir);
  if (!existsSync(pictures) || !existsSync(sounds)) {
    const voice = speak(index);
    await encodeSounds(voice, sounds);
    await encodePictures(index, voice, pictures);
  }
  return { pictures: readIvf(readFileSync(pictures)), sounds: readOgg(readFileSync(sounds)) };
}

function encodePictures(index: number, voice: Float32Array, file: string): Promise<void> {
  const frames = function* () {
    for (let i = 0; i < LOOP_S * FRAMES_PER_S; i++) {
      const atS = i / FRAMES_PER_S;
      yield draw(GUESTS[index]!, atS, loudness(voice, atS));
    }
  };
  const input = [
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb24',
    '-s',
    `${WIDTH}x${HEIGHT}`,
    '-r',
    String(FRAMES_PER_S),
  ];
  const codec = ['-c:v', 'libvpx', '-deadline', 'realtime', '-cpu-used', '8', '-auto-alt-ref', '0'];
  const rate = ['-b:v', '500k', '-g', String(FRAMES_PER_S), '-pix_fmt', 'yuv420p', '-f', 'ivf'];
  return encode([...input, '-i', '-', ...codec, ...rate], frames(), file);
}

function encodeSounds(voice: Float32Array, file: string): Promise<void> {
  const input = ['-f', 'f32le', '-ar', String(SAMPLE_RATE_HZ), '-ac', '1', '-i', '-'];
  const codec = [
    '-c:a',
    'libopus',
    '-b:a',
    '48k',
    '-frame_duration',
    '20',
    '-application',
    'voip',
    '-f',
    'ogg',
  ];
  return encode([...input, ...codec], [Buffer.from(voice.buffer)], file);
}

/** Into a file beside it first: what is there under its name is whole. */
async function encode(args: string[], parts: Iterable<Buffer>, file: string): Promise<void> {
  const half = `${file}.half`;
  const encoder = spawn('ffmpeg', ['-v', 'error', '-y', ...args, half], {
    stdio: ['pipe', 'ignore', 'inherit'],
  });
  const ended = new Promise<number | null>((done, failed) => {
    encoder.once('error', failed);
    encoder.once('close', done);
  });
  encoder.stdin.on('error', () => undefined);
  for (const part of parts) {
    if (!encoder.stdin.write(part)) await new Promise((drained) => encoder.stdin.once('drain', drained));
  }
  encoder.stdin.end();
  if ((await ended) !== 0) throw new Error('a made-up guest could not be encoded');
  renameSync(half, file);
}

/** IVF: a header that says its own length, then each picture behind its length and a time of 8 bytes. */
export function readIvf(bytes: Buffer): Buffer[] {
  const pictures: Buffer[] = [];
  for (let at = bytes.readUInt16LE(6); at + 12 <= bytes.length;) {
    const length = bytes.readUInt32LE(at);
    pictures.push(bytes.subarray(at + 12, at + 12 + length));
    at += 12 + length;
  }
  return pictures;
}

/** Ogg (RFC 3533) with Opus in it (RFC 7845): packets without the two headers at the start. */
export function readOgg(bytes: Buffer): Buffer[] {
  const packets: Buffer[] = [];
  let parts: Buffer[] = [];
  for (let at = 0; at + 27 <= bytes.length;) {
    const segments = bytes.subarray(at + 27, at + 27 + bytes[at + 26]!);
    at += 27 + segments.length;
    for (const length of segments) {
      parts.push(bytes.subarray(at, at + length));
      at += length;
      // A segment of 255 bytes goes on in the next.
      if (length === 255) continue;
      packets.push(Buffer.concat(parts));
      parts = [];
    }
  }
  return packets.slice(2);
}
