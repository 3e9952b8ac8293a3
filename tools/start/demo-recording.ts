import { spawn } from 'node:child_process';
import { existsSync, linkSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/**
 * The recordings of the demo's finished show, as the relay would have left them: two of the made-up guests beside one
 * another. Half a minute of it is encoded, and repeated to the show's length without being encoded again.
 */
const SHOW = 'c9e3f4a5-3b5c-4d6e-9f7a-8b9c0d1e2f07';
const RUN = 'e1a2b3c4-5d6e-4f70-8a9b-0c1d2e3f4a01';
const LENGTH_S = 58 * 60 + 21;
const ENCODED_S = 36;

export async function makeDemoRecording(dataDir: string): Promise<void> {
  const dir = path.join(dataDir, 'relay', 'shows', SHOW, RUN);
  if (existsSync(path.join(dir, 'run.json'))) return;
  mkdirSync(dir, { recursive: true, mode: 0o700 });
  const guests = path.join(dataDir, 'standins', 'guests');
  const [part, programme, aired] = ['part.mp4', 'programme.mp4', 'aired.mp4'].map((name) =>
    path.join(dir, name),
  ) as [string, string, string];
  const clip = (n: number, kind: string) => [
    '-stream_loop',
    '-1',
    '-i',
    path.join(guests, `guest-${n}.${kind}`),
  ];
  // The two tiles of the pair, on the house's plain ground.
  const picture =
    '[0:v]scale=964:542,crop=604:542[a];[1:v]scale=964:542,crop=604:542[b];' +
    'color=0x16201a:s=1280x720:r=24[g];[g][a]overlay=24:88[h];[h][b]overlay=652:88,format=yuv420p[v]';
  await ffmpeg([
    ...clip(3, 'ivf'),
    ...clip(1, 'ivf'),
    ...clip(3, 'ogg'),
    ...clip(1, 'ogg'),
    ...['-filter_complex', `${picture};[2:a][3:a]amix=inputs=2[s]`, '-map', '[v]', '-map', '[s]'],
    ...['-t', String(ENCODED_S), '-c:v', 'libx264', '-preset', 'veryfast', '-crf', '32', '-g', '48'],
    ...['-c:a', 'aac', '-b:a', '64k', '-ar', '48000', part],
  ]);
  await ffmpeg([
    ...['-stream_loop', '-1', '-i', part, '-t', String(LENGTH_S), '-c', 'copy'],
    ...['-movflags', '+faststart', `${programme}.mp4`],
  ]);
  rmSync(part);
  renameSync(`${programme}.mp4`, programme);
  rmSync(aired, { force: true });
  linkSync(programme, aired);
  const endedAtMs = Date.now() - 7 * 24 * 3_600_000;
  const record = {
    runId: RUN,
    startedAtMs: endedAtMs - LENGTH_S * 1000,
    endedAtMs,
    sessions: [],
    aired: [],
    width: 1280,
    height: 720,
    finished: { programme: 'programme.mp4', aired: 'aired.mp4' },
  };
  writeFileSync(path.join(dir, 'run.json'), JSON.stringify(record), { mode: 0o600 });
}

function ffmpeg(args: string[]): Promise<void> {
  return new Promise((done, failed) => {
    const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', '-y', ...args], {
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    child.once('error', failed);
    child.once('close', (code) =>
      code === 0 ? done() : failed(new Error('the demo’s recording could not be made')),
    );
  });
}
