import { execFileSync, spawnSync } from 'node:child_process';

/**
 * Looks into media that arrived somewhere, with ffmpeg. What is known here of the test pattern and of where the pair
 * layout puts it is written down once more on purpose: a mistake in the one would not be found by itself.
 */
export interface Probed {
  readonly codecs: string[];
  readonly width: number;
  readonly height: number;
  readonly sampleRate: number;
  readonly videoFrames: { at: number; key: boolean }[];
  readonly audioFrames: number[];
}

export function probe(file: string): Probed {
  // In the stream's own time: on a grid of thirtieths two pictures of a desk that came back may fall on one.
  const args = ['-v', 'error', '-i', file, '-enc_time_base', '-1', '-f', 'null', '-'];
  const decoded = spawnSync('ffmpeg', args, { encoding: 'utf8' });
  if (decoded.status !== 0 || decoded.stderr.trim() !== '')
    throw new Error(`decoding ${file}: ${decoded.stderr}`);
  const entries = 'stream=codec_name,width,height,sample_rate:packet=codec_type,pts_time,flags';
  const out = execFileSync('ffprobe', ['-v', 'error', '-show_entries', entries, '-of', 'json', file], {
    encoding: 'utf8',
    maxBuffer: 64 * 1024 ** 2,
  });
  const { streams, packets } = JSON.parse(out) as {
    streams: { codec_name: string; width?: number; height?: number; sample_rate?: string }[];
    packets: { codec_type: string; pts_time: string; flags: string }[];
  };
  const of = (type: string) => packets.filter((packet) => packet.codec_type === type);
  return {
    codecs: streams.map(({ codec_name }) => codec_name).sort(),
    width: streams.find(({ width }) => width)?.width ?? 0,
    height: streams.find(({ height }) => height)?.height ?? 0,
    sampleRate: Number(streams.find(({ sample_rate }) => sample_rate)?.sample_rate ?? 0),
    videoFrames: of('video').map(({ pts_time, flags }) => ({
      at: Number(pts_time),
      key: flags.startsWith('K'),
    })),
    audioFrames: of('audio').map(({ pts_time }) => Number(pts_time)),
  };
}

export const steps = (times: readonly number[]): number[] => times.slice(1).map((at, i) => at - times[i]!);

/**
 * The longest that a keyframe was owed, s: from one to the last frame before the next. How much later that next frame is, is the
 * affair of a machine that leaves some out.
 */
export function longestGroup(frames: Probed['videoFrames']): number {
  const keys = frames.flatMap(({ key }, i) => (key ? [i] : []));
  return Math.max(0, ...keys.slice(1).map((key, i) => frames[key - 1]!.at - frames[keys[i]!]!.at));
}

/** Where the most in a row hold; `to` is the first that does not. */
export function longestStretch(holds: readonly boolean[]): { from: number; to: number } {
  let longest = { from: 0, to: 0 };
  let from = 0;
  [...holds, false].forEach((one, to) => {
    if (one) return;
    if (to - from > longest.to - longest.from) longest = { from, to };
    from = to + 1;
  });
  return longest;
}

const WIDTH = 1280;
const HEIGHT = 720;
/** The pair: two places of 584x648, the middle of a picture of 640x360 in each. */
const TILES = [46, 650] as const;
const TILE_Y = 36;
const SCALE = 360 / 648;
const CROP_X = (640 - 584 * SCALE) / 2;

export interface SeenTile {
  readonly colour: readonly [number, number, number];
  /** The number that the picture carries; null when it cannot be read. */
  readonly number: number | null;
  readonly flash: boolean;
}

/** Every picture of a stretch of a file, as it is seen. */
function readVideoFrames(file: string, fromS: number, seconds: number, framesPerS?: number): Buffer[] {
  const rate = framesPerS ? ['-vf', `fps=${framesPerS}`] : ['-fps_mode', 'passthrough'];
  const stretch = ['-ss', String(fromS), '-i', file, '-t', String(seconds)];
  const raw = execFileSync(
    'ffmpeg',
    ['-v', 'error', ...stretch, ...rate, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
    { maxBuffer: 1024 ** 3 },
  );
  const bytes = WIDTH * HEIGHT * 3;
  return Array.from({ length: Math.floor(raw.length / bytes) }, (_, i) =>
    raw.subarray(i * bytes, (i + 1) * bytes),
  );
}

/** What stands in both tiles of a stretch of a file: of each picture, or of so many a second. */
export function readPair(file: string, fromS: number, seconds: number, framesPerS?: number): SeenTile[][] {
  return readVideoFrames(file, fromS, seconds, framesPerS).map((videoFrame) =>
    TILES.map((x) => readTile(videoFrame, x)),
  );
}

/** One spot of the programme over the whole of a file, twice a second or as often as is said. */
export function watchSpot(
  file: string,
  seconds: number,
  x: number,
  y: number,
  perS = 2,
): [number, number, number][] {
  const filter = `fps=${perS},crop=2:2:${x & ~1}:${y & ~1}`;
  const raw = execFileSync('ffmpeg', [
    ...['-v', 'error', '-i', file, '-t', String(seconds), '-vf', filter],
    ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
  ]);
  const bytes = 2 * 2 * 3;
  return Array.from({ length: Math.floor(raw.length / bytes) }, (_, i) => [
    raw[i * bytes]!,
    raw[i * bytes + 1]!,
    raw[i * bytes + 2]!,
  ]);
}

/** A quarter of the programme each way. */
const SMALL = { width: 320, height: 180 };

/** Some spots of the programme as they were last, in a file that still grows: of its last keyframe, which costs little. */
export function spotsNow(file: string, ...spots: (readonly [number, number])[]): [number, number, number][] {
  const { width, height } = SMALL;
  const raw = execFileSync(
    'ffmpeg',
    [
      ...['-v', 'error', '-skip_frame', 'nokey', '-i', file, '-vsync', 'passthrough'],
      ...['-vf', `scale=${width}:${height}:flags=neighbor`, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
    ],
    // What is being written may end within a packet, which is said and means nothing.
    { maxBuffer: 256 * 1024 * 1024, stdio: ['ignore', 'pipe', 'ignore'] },
  );
  const bytes = width * height * 3;
  const last = (Math.floor(raw.length / bytes) - 1) * bytes;
  return spots.map(([x, y]) => {
    const at = last + (Math.floor(y / 4) * width + Math.floor(x / 4)) * 3;
    return [raw[at] ?? 0, raw[at + 1] ?? 0, raw[at + 2] ?? 0];
  });
}

/** Within a message's card, on the paper beside who wrote: in the demo's dressing of the show that is ready. */
export const CARD_SPOT = [1170, 556] as const;
export const isPaper = ([r, g, b]: readonly number[]): boolean => r! > 200 && g! > 200 && b! > 180;

function readTile(videoFrame: Buffer, tileX: number): SeenTile {
  const at = (sourceX: number, sourceY: number): [number, number, number] => {
    const x = Math.round(tileX + (sourceX - CROP_X) / SCALE);
    const y = Math.round(TILE_Y + sourceY / SCALE);
    const from = (y * WIDTH + x) * 3;
    return [videoFrame[from]!, videoFrame[from + 1]!, videoFrame[from + 2]!];
  };
  const light = (sourceX: number, sourceY: number) =>
    at(sourceX, sourceY).reduce((sum, one) => sum + one, 0) > 384;
  // Two rows of twelve.
  const fields = Array.from({ length: 24 }, (_, i) => light(210 + 20 * (i % 12), i < 12 ? 192 : 217));
  return { colour: at(200, 60), number: numberOf(fields), flash: light(320, 66) };
}

/** Twenty bits, and four of a sum of their groups of four, inverted. */
function numberOf(fields: boolean[]): number | null {
  const value = (bits: boolean[]) => bits.reduce((sum, bit) => sum * 2 + (bit ? 1 : 0), 0);
  const number = value(fields.slice(0, 20));
  let sum = 0;
  for (let rest = number; rest > 0; rest >>= 4) sum += rest & 15;
  return value(fields.slice(20)) === (~sum & 15) ? number : null;
}

/** How loud a tone is in the last second of a file that still grows, from 0 to 1; it may be a little off its pitch. */
export function toneNow(file: string, hz: number): number {
  const rate = 48_000;
  const raw = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', file, '-vn', '-f', 's16le', '-ac', '1', '-ar', String(rate), '-'],
    { maxBuffer: 512 * 1024 ** 2, stdio: ['ignore', 'pipe', 'ignore'] },
  );
  const samples = Math.floor(raw.length / 2);
  // In short pieces: over a long one, a tone that is a hair too high cancels itself.
  const [pieces, length] = [20, rate / 20];
  let sum = 0;
  for (let piece = 1; piece <= pieces && piece * length <= samples; piece++) {
    let [real, imaginary] = [0, 0];
    for (let i = samples - piece * length; i < samples - (piece - 1) * length; i++) {
      const turn = (2 * Math.PI * hz * i) / rate;
      real += (raw.readInt16LE(i * 2) / 32_768) * Math.cos(turn);
      imaginary += (raw.readInt16LE(i * 2) / 32_768) * Math.sin(turn);
    }
    sum += (2 * Math.hypot(real, imaginary)) / length;
  }
  return sum / pieces;
}

/** Instants, s, at which a file's sound begins after a silence. */
export function audioOnsets(file: string): number[] {
  const filter = 'aresample=async=1:first_pts=0';
  const raw = execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', file, '-af', filter, '-f', 's16le', '-ac', '1', '-ar', '48000', '-'],
    {
      maxBuffer: 512 * 1024 ** 2,
    },
  );
  const onsets: number[] = [];
  let quietSince = 0;
  for (let i = 0; i + 1 < raw.length; i += 2) {
    if (Math.abs(raw.readInt16LE(i)) < 1500) continue;
    if (i / 2 - quietSince > 12_000) onsets.push(i / 2 / 48_000);
    quietSince = i / 2;
  }
  return onsets;
}
