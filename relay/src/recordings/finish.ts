import { SAMPLE_RATE_HZ, SAMPLES_PER_FRAME } from '@juncta/core/stage';
import type { Piece } from '@juncta/core/relay';
import {
  decodeTags,
  encodeTag,
  findParameterSets,
  FLV_HEADER,
  picture,
  pictureConfiguration,
  splitUnits,
  unwrapTime,
} from '@juncta/core/relay/flv';
import { OPUS_PACKET_SAMPLES, OPUS_SILENCE, OpusPages } from '@juncta/core/relay/sound';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createReadStream, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Writable } from 'node:stream';
import { readSession } from '../intake/session-store';
import type { Run } from './run';

/**
 * Makes the files that can be played out of what a run left on disk. Pictures are copied; the sound of the clean
 * recording is made anew from what the desk sent. Safe to repeat: a file appears under its name only when it is whole.
 */
const TO_MP4 = ['-movflags', '+faststart', '-f', 'mp4'];
/** Work for nobody who waits: a show that is on air goes first. */
const NICE = ['-n', '15'];

/** What went out, joined over all lives of the relay. */
export async function finishAired(run: Run, signal: AbortSignal): Promise<string> {
  const out = path.join(run.dir, 'aired.mp4');
  const args = ['-f', 'flv', '-i', 'pipe:3', '-map', '0:v:0', '-map', '0:a:0?', '-c', 'copy', ...TO_MP4];
  await makeFile(out, args, [(pipe) => joinAired(run, pipe)], signal);
  return path.basename(out);
}

async function joinAired(run: Run, pipe: Writable): Promise<void> {
  await put(pipe, FLV_HEADER);
  for (const { file, fromMs } of run.record.aired) {
    let rest: Uint8Array = new Uint8Array(0);
    let begun = false;
    let lastMs = 0;
    for await (const chunk of createReadStream(path.join(run.dir, file))) {
      rest = rest.length === 0 ? (chunk as Buffer) : Buffer.concat([rest, chunk as Buffer]);
      if (!begun) {
        if (rest.length < FLV_HEADER.length) continue;
        rest = rest.subarray(FLV_HEADER.length);
        begun = true;
      }
      const { tags, consumed, problem } = decodeTags(rest);
      for (const tag of tags) {
        lastMs = unwrapTime(tag.timeMs, lastMs);
        await put(pipe, encodeTag({ ...tag, timeMs: lastMs + fromMs }));
      }
      rest = rest.subarray(consumed);
      // A file that a crash cut short is good up to there.
      if (problem) break;
    }
  }
}

/** What the desks composed, whether it went out or not, on the show's time. */
export async function finishClean(run: Run, signal: AbortSignal): Promise<string> {
  const out = path.join(run.dir, 'clean.mp4');
  const args = [
    ...['-f', 'flv', '-i', 'pipe:3', '-f', 'ogg', '-i', 'pipe:4', '-map', '0:v:0', '-map', '1:a:0'],
    ...['-c:v', 'copy', '-c:a', 'aac', '-b:a', '160k', ...TO_MP4],
  ];
  await makeFile(out, args, [(pipe) => cleanPictures(run, pipe), (pipe) => cleanSound(run, pipe)], signal);
  return path.basename(out);
}

/** Pieces that a run's sessions should have between their first and their last, and have not: 0 when all came. */
export async function countMissing(run: Run): Promise<number> {
  let missing = 0;
  for (const { session } of run.record.sessions) {
    const pieces = await readSession(run.sessionDir(session));
    // The slate is sent again to a relay that has forgotten it, and is no part of the programme.
    const numbers = pieces.filter(({ slate }) => !slate).map(({ number }) => number);
    if (numbers.length > 0) missing += numbers.at(-1)! - numbers[0]! + 1 - numbers.length;
  }
  return missing;
}

/** Pieces on the show's time, session after session. */
async function* piecesOf(run: Run, track: Piece['track']): AsyncGenerator<{ at: number; piece: Piece }> {
  let last = -1;
  for (const { session, offset } of run.record.sessions) {
    for (const piece of await readSession(run.sessionDir(session))) {
      if (piece.track !== track || piece.slate) continue;
      const at = Math.round((piece.timeUs * SAMPLE_RATE_HZ) / 1_000_000) + offset;
      // A desk that took over may have begun a hair before the other's end.
      if (at <= last) continue;
      last = at;
      yield { at, piece };
    }
  }
}

async function cleanPictures(run: Run, pipe: Writable): Promise<void> {
  await put(pipe, FLV_HEADER);
  let configured = false;
  let session = '';
  for await (const { at, piece } of piecesOf(run, 'picture')) {
    if (at < -SAMPLES_PER_FRAME) continue;
    if (piece.session !== session) {
      // What comes before a session's first keyframe cannot be shown.
      if (!piece.key) continue;
      session = piece.session;
    }
    const units = splitUnits(piece.payload);
    const timeMs = Math.max(0, Math.round((at * 1000) / SAMPLE_RATE_HZ));
    const sets = findParameterSets(units);
    if (!configured && sets) {
      await put(pipe, encodeTag(pictureConfiguration(sets, timeMs)));
      configured = true;
    }
    if (configured) await put(pipe, encodeTag(picture(units, piece.key, timeMs)));
  }
}

/** One unbroken stream from the show's 0: silence stands where the desk sent nothing. */
async function cleanSound(run: Run, pipe: Writable): Promise<void> {
  const pages = new OpusPages(2);
  await put(pipe, pages.headers());
  let next = 0;
  for await (const { at, piece } of piecesOf(run, 'sound')) {
    if (at < -OPUS_PACKET_SAMPLES / 2) continue;
    for (; at - next >= OPUS_PACKET_SAMPLES; next += OPUS_PACKET_SAMPLES)
      await put(pipe, pages.packet(OPUS_SILENCE));
    if (at - next < -OPUS_PACKET_SAMPLES / 2) continue;
    await put(pipe, pages.packet(piece.payload));
    next += OPUS_PACKET_SAMPLES;
  }
  // A show without a sound piece is silent, not soundless.
  if (next === 0) await put(pipe, pages.packet(OPUS_SILENCE));
}

async function put(pipe: Writable, bytes: Uint8Array): Promise<void> {
  if (!pipe.write(bytes)) await once(pipe, 'drain');
}

/**
 * Runs ffmpeg with some pipes from 3 on, each fed by its writer, and puts the result in its place when all went well.
 * Broken off by the signal, there is no result.
 */
async function makeFile(
  out: string,
  args: string[],
  feeders: ((pipe: Writable) => Promise<void>)[],
  signal: AbortSignal,
): Promise<void> {
  signal.throwIfAborted();
  const part = `${out}.part`;
  const child = spawn(
    'nice',
    [
      ...NICE,
      'ffmpeg',
      '-hide_banner',
      '-nostdin',
      '-y',
      '-loglevel',
      'error',
      '-protocol_whitelist',
      'pipe,file',
      ...args,
      part,
    ],
    {
      stdio: ['ignore', 'ignore', 'pipe', ...feeders.map(() => 'pipe' as const)],
      env: { PATH: process.env['PATH'] },
      signal,
      killSignal: 'SIGKILL',
    },
  );
  let says = '';
  child.stderr!.on('data', (text: Buffer) => (says = (says + String(text)).slice(-600)));
  const closed = new Promise<number | null>((done, failed) => {
    child.once('error', failed);
    child.once('close', done);
  });
  const fed = feeders.map(async (feed, i) => {
    const pipe = child.stdio[3 + i] as Writable;
    const broken = once(pipe, 'error').then(() => undefined);
    // ffmpeg may end first, which closes the pipe under the writer: its status says why.
    await Promise.race([feed(pipe), broken]);
    pipe.end();
  });
  try {
    const [status] = await Promise.all([closed, ...fed]);
    if (status !== 0) throw new Error(says.trim() || `ffmpeg ended with ${status}`);
    renameSync(part, out);
  } catch (error) {
    rmSync(part, { force: true });
    child.kill('SIGKILL');
    throw error;
  }
}
