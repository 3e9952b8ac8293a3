import { execFile, spawn } from 'node:child_process';
import { once } from 'node:events';
import { renameSync, rmSync } from 'node:fs';
import type { Writable } from 'node:stream';
import { promisify } from 'node:util';
import * as z from 'zod';

export interface Mp4Work {
  /** ffmpeg's inputs; pipes count from 3 on, in the order of the writers. */
  readonly inputs: readonly string[];
  readonly output: readonly string[];
  /** Writes what holds the frames, and gives how many those were. */
  readonly videoFrames: (pipe: Writable) => Promise<number>;
  readonly others: readonly ((pipe: Writable) => Promise<void>)[];
  readonly signal: AbortSignal;
}

const TO_MP4 = ['-movflags', '+faststart', '-f', 'mp4'];

/**
 * Runs ffmpeg, and puts the file in its place once it was read back and holds what was written. Broken off by the signal,
 * or with fewer frames than were written, there is none, and it throws.
 *
 * @returns how many frames it holds; 0: there were none, and there is no file
 */
export async function makeMp4(
  out: string,
  { inputs, output, videoFrames, others, signal }: Mp4Work,
): Promise<number> {
  signal.throwIfAborted();
  const part = `${out}.part`;
  const args = ['-hide_banner', '-nostdin', '-y', '-loglevel', 'error', '-protocol_whitelist', 'pipe,file'];
  const child = spawn('ffmpeg', [...args, ...inputs, ...output, ...TO_MP4, part], {
    stdio: ['ignore', 'ignore', 'pipe', 'pipe', ...others.map(() => 'pipe' as const)],
    env: { PATH: process.env['PATH'] },
    signal,
    killSignal: 'SIGKILL',
  });
  let says = '';
  child.stderr!.on('data', (text: Buffer) => (says = (says + String(text)).slice(-600)));
  const closed = new Promise<number | null>((done, failed) => {
    child.once('error', failed);
    child.once('close', done);
  });
  let written = 0;
  const writers = [async (pipe: Writable) => void (written = await videoFrames(pipe)), ...others];
  const fed = writers.map(async (write, i) => {
    const pipe = child.stdio[3 + i] as Writable;
    const broken = once(pipe, 'error').then(() => undefined);
    // ffmpeg may end first, which closes the pipe under the writer: its status says why.
    await Promise.race([write(pipe), broken]);
    pipe.end();
  });
  try {
    const [status] = await Promise.all([closed, ...fed]);
    if (status === 0) {
      const held = await countVideoFrames(part, signal);
      if (held < written) throw new Error(`it holds ${held} of ${written} pictures`);
      renameSync(part, out);
    } else if (written > 0) throw new Error(says.trim() || `ffmpeg ended with ${status}`);
    else rmSync(part, { force: true });
    return written;
  } catch (error) {
    rmSync(part, { force: true });
    child.kill('SIGKILL');
    throw error;
  }
}

export async function put(pipe: Writable, bytes: Uint8Array): Promise<void> {
  if (!pipe.write(bytes)) await once(pipe, 'drain');
}

const Probed = z.object({ streams: z.array(z.object({ nb_read_packets: z.coerce.number() })).min(1) });

/**
 * Reads the whole file without decoding, and counts what it holds. Its edit list is passed over: by that a reader may leave
 * out a last frame of no length, which is no reason to do without the file.
 */
async function countVideoFrames(file: string, signal: AbortSignal): Promise<number> {
  const args = ['-v', 'error', '-ignore_editlist', '1', '-count_packets', '-select_streams', 'v:0'];
  const { stdout } = await promisify(execFile)(
    'ffprobe',
    [...args, '-show_entries', 'stream=nb_read_packets', '-of', 'json', file],
    { env: { PATH: process.env['PATH'] }, signal, killSignal: 'SIGKILL' },
  );
  return Probed.parse(JSON.parse(stdout)).streams[0]!.nb_read_packets;
}
