import { execFileSync, spawnSync } from 'node:child_process';

export interface Probed {
  readonly streams: readonly { codec_name: string; width?: number; height?: number; sample_rate?: string }[];
  /** Times in s, in the order of the file. */
  readonly videoFrames: readonly { at: number; key: boolean }[];
  readonly audioFrames: readonly number[];
  readonly durationS: number;
}

/** What ffprobe says of a file. Throws when it, or decoding the whole, has anything to complain about. */
export function probe(file: string): Probed {
  // In the stream's own time: on a grid of thirtieths two frames of a desk that came back may fall on one.
  const args = ['-v', 'error', '-i', file, '-enc_time_base', '-1', '-f', 'null', '-'];
  const decoded = spawnSync('ffmpeg', args, { encoding: 'utf8' });
  if (decoded.status !== 0 || decoded.stderr.trim() !== '')
    throw new Error(`decoding ${file}: ${decoded.stderr}`);
  const out = execFileSync(
    'ffprobe',
    [
      '-v',
      'error',
      '-show_entries',
      'stream=codec_name,width,height,sample_rate:packet=codec_type,pts_time,flags:format=duration',
      '-of',
      'json',
      file,
    ],
    { encoding: 'utf8', maxBuffer: 64 * 1024 ** 2 },
  );
  const { streams, packets, format } = JSON.parse(out) as {
    streams: Probed['streams'];
    packets: { codec_type: string; pts_time: string; flags: string }[];
    format: { duration?: string };
  };
  const of = (type: string) => packets.filter(({ codec_type }) => codec_type === type);
  return {
    streams,
    videoFrames: of('video').map(({ pts_time, flags }) => ({
      at: Number(pts_time),
      key: flags.startsWith('K'),
    })),
    audioFrames: of('audio').map(({ pts_time }) => Number(pts_time)),
    durationS: Number(format.duration ?? 0),
  };
}

/** The longest stretch between two, in s. */
export const longestStep = (times: readonly number[]): number =>
  Math.max(0, ...times.slice(1).map((at, i) => at - times[i]!));

export const rises = (times: readonly number[]): boolean =>
  times.every((at, i) => i === 0 || at > times[i - 1]!);
