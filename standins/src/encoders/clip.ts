import { spawn } from 'node:child_process';
import { existsSync, renameSync } from 'node:fs';
import path from 'node:path';
import { clipOf, filesOf } from '../guests/clip';

/** `encoder`: a test pattern with a tone, as somebody sends who tries a line; `meeting`: three people in one plain picture. */
export const KINDS = ['encoder', 'meeting'] as const;
export type Kind = (typeof KINDS)[number];

const SECONDS = 20;
const PEOPLE = [0, 1, 2];

const made = new Map<Kind, Promise<string>>();

/** What a made-up encoder sends, over and over: encoded once, and kept. Gives the file. */
export function encoderClip(kind: Kind, dir: string, guestsDir: string): Promise<string> {
  let clip = made.get(kind);
  if (!clip) {
    clip = make(kind, path.join(dir, `${kind}.flv`), guestsDir);
    made.set(kind, clip);
    clip.catch(() => made.delete(kind));
  }
  return clip;
}

async function make(kind: Kind, file: string, guestsDir: string): Promise<string> {
  if (existsSync(file)) return file;
  await encode(kind === 'encoder' ? pattern() : await meeting(guestsDir), file);
  return file;
}

function pattern(): string[] {
  return [
    ...['-f', 'lavfi', '-i', 'testsrc2=size=1280x720:rate=30'],
    ...['-f', 'lavfi', '-i', 'sine=frequency=330:beep_factor=3:sample_rate=48000'],
    ...['-g', '60', '-keyint_min', '60', '-b:v', '2500k', '-maxrate', '2500k', '-bufsize', '2500k'],
    ...['-af', 'volume=0.5', '-ar', '48000', '-ac', '2'],
  ];
}

/** As a meeting program lays people out: two above, one below. 25 frames a second and 44.1 kHz, which such programs have. */
async function meeting(guestsDir: string): Promise<string[]> {
  for (const index of PEOPLE) await clipOf(index, guestsDir);
  const files = PEOPLE.map((index) => filesOf(index, guestsDir));
  const tiles = PEOPLE.map((index) => `[${index}:v]fps=25,scale=616:346[p${index}]`);
  const ground = `color=c=0x2a2320:s=1280x720:r=25[ground]`;
  const laid = [
    '[ground][p0]overlay=16:8:shortest=0[a]',
    '[a][p1]overlay=648:8:shortest=0[b]',
    '[b][p2]overlay=332:366:shortest=0,trim=duration=20[picture]',
  ];
  const voices = `[3:a][4:a][5:a]amix=inputs=3:normalize=0[sound]`;
  return [
    ...files.flatMap(({ pictures }) => ['-stream_loop', '-1', '-i', pictures]),
    ...files.flatMap(({ sounds }) => ['-stream_loop', '-1', '-i', sounds]),
    ...['-filter_complex', [...tiles, ground, ...laid, voices].join(';')],
    ...['-map', '[picture]', '-map', '[sound]'],
    ...['-g', '50', '-keyint_min', '50', '-b:v', '1800k', '-maxrate', '1800k', '-bufsize', '1800k'],
    ...['-ar', '44100', '-ac', '1'],
  ];
}

/** Into a file beside it first: what is there under its name is whole. */
async function encode(args: string[], file: string): Promise<void> {
  const half = `${file}.half`;
  const encoder = spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-y', ...args, '-t', String(SECONDS), '-c:v', 'libx264', '-preset', 'veryfast'],
      ...[
        '-pix_fmt',
        'yuv420p',
        '-bf',
        '0',
        '-sc_threshold',
        '0',
        '-c:a',
        'aac',
        '-b:a',
        '128k',
        '-f',
        'flv',
        half,
      ],
    ],
    { stdio: ['ignore', 'ignore', 'inherit'] },
  );
  const status = await new Promise<number | null>((done, failed) => {
    encoder.once('error', failed);
    encoder.once('close', done);
  });
  if (status !== 0) throw new Error(`ffmpeg ended with ${status} while a stand-in encoder's clip was made`);
  renameSync(half, file);
}
