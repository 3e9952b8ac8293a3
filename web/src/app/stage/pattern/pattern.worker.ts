import { formatShowTime, FRAME_RATE_HZ, SAMPLES_PER_FRAME } from '@juncta/core/programme';
import { codeOf, flashesAt, PATTERN, patternColour, patternParts, patternAudio } from '@juncta/core/stage';
import { MEASURE_CHANNEL, type PatternMessage, type PatternPicture } from '../messages';

/**
 * Makes test patterns, as many as are asked for, and hands each to whoever holds the other end of its port. Lives in a
 * worker, so that a hidden page does not slow it down.
 */
interface Pattern {
  readonly port: MessagePort;
  readonly index: number;
  readonly canvas: OffscreenCanvas;
  readonly context: OffscreenCanvasRenderingContext2D;
  readonly ground: OffscreenCanvas;
  /** Null: it is smooth. */
  readonly grain: CanvasPattern | null;
}

const patterns = new Map<string, Pattern>();
const startedMs = performance.now();
let next = 0;
const measure = new BroadcastChannel(MEASURE_CHANNEL);

self.onmessage = ({ data }: MessageEvent<PatternMessage>) => {
  if (data.type === 'make') {
    patterns.set(data.id, begin(data));
    // Frame n was made n thirtieths of a second after this instant.
    measure.postMessage({ type: 'pattern', startedAtMs: performance.timeOrigin + startedMs });
  } else {
    patterns.get(data.id)?.port.close();
    patterns.delete(data.id);
  }
};

type Make = Extract<PatternMessage, { type: 'make' }>;

function begin({ port, index, name, grain }: Make): Pattern {
  const canvas = new OffscreenCanvas(PATTERN.width, PATTERN.height);
  const ground = new OffscreenCanvas(PATTERN.width, PATTERN.height);
  paintGround(ground.getContext('2d', { alpha: false })!, index, name);
  const context = canvas.getContext('2d', { alpha: false })!;
  return { port, index, canvas, context, ground, grain: grain ? grainOf(context) : null };
}

/** Pixels across and down of a tile of noise, which lies elsewhere in every frame. */
const GRAIN_SIZE = 256;
/** As strong as the noise of a camera in a room that is lit by lamps. */
const GRAIN_ALPHA = 28;

function grainOf(context: OffscreenCanvasRenderingContext2D): CanvasPattern {
  const tile = new OffscreenCanvas(GRAIN_SIZE, GRAIN_SIZE);
  const pixels = new ImageData(GRAIN_SIZE, GRAIN_SIZE);
  for (let i = 0; i < pixels.data.length; i += 4) {
    pixels.data.fill(Math.floor(Math.random() * 256), i, i + 3);
    pixels.data[i + 3] = GRAIN_ALPHA;
  }
  tile.getContext('2d')!.putImageData(pixels, 0, 0);
  return context.createPattern(tile, 'repeat')!;
}

function paintGrain({ context, grain }: Pattern): void {
  if (!grain) return;
  const [x, y] = [Math.floor(Math.random() * GRAIN_SIZE), Math.floor(Math.random() * GRAIN_SIZE)];
  context.save();
  context.translate(-x, -y);
  context.fillStyle = grain;
  context.fillRect(x, y, PATTERN.width, PATTERN.height);
  context.restore();
}

/** What stays the same in every picture. */
function paintGround(context: OffscreenCanvasRenderingContext2D, index: number, name: string): void {
  const { width, height } = PATTERN;
  context.fillStyle = patternColour(index);
  context.fillRect(0, 0, width, height);
  context.strokeStyle = 'rgba(255,255,255,.35)';
  context.lineWidth = 2;
  context.strokeRect(width * 0.05, height * 0.05, width * 0.9, height * 0.9);
  context.fillStyle = '#fff';
  context.textAlign = 'center';
  context.font = '600 34px sans-serif';
  context.fillText(name.slice(0, 30), width / 2, height * 0.44);
}

function paint(pattern: Pattern, frame: number): void {
  const { context, ground } = pattern;
  const { width, height } = PATTERN;
  const { code, flash } = patternParts();
  context.drawImage(ground, 0, 0);
  paintGrain(pattern);
  codeOf(frame).forEach((light, i) => {
    const field = code[i]!;
    context.fillStyle = light ? '#fff' : '#000';
    context.fillRect(field.x, field.y, field.width, field.height);
  });
  context.fillStyle = flashesAt(frame) ? '#fff' : '#000';
  context.fillRect(flash.x, flash.y, flash.width, flash.height);
  context.fillStyle = '#fff';
  context.font = '28px monospace';
  context.textAlign = 'center';
  const ms = (frame * 1000) / FRAME_RATE_HZ;
  context.fillText(
    `${formatShowTime(ms)}.${String(Math.floor(ms % 1000)).padStart(3, '0')}`,
    width / 2,
    height * 0.76,
  );
  context.font = '18px monospace';
  context.fillText(`picture ${frame}`, width / 2, height * 0.84);
  // Something that moves evenly: a jerk is seen at once.
  context.fillRect(((frame * 4) % (width + 40)) - 40, height * 0.9, 40, 10);
}

function tick(): void {
  const nowMs = performance.now();
  const latest = Math.floor(((nowMs - startedMs) * FRAME_RATE_HZ) / 1000);
  if (latest >= next) {
    // After a hiccup the audio is made up for, the frames are not.
    const from = Math.max(next, latest - FRAME_RATE_HZ);
    for (const pattern of patterns.values()) send(pattern, from, latest);
    next = latest + 1;
  }
  const dueMs = startedMs + (next * 1000) / FRAME_RATE_HZ;
  setTimeout(tick, Math.max(0, dueMs - performance.now()));
}

function send(pattern: Pattern, from: number, latest: number): void {
  paint(pattern, latest);
  const timestamp = Math.round((latest * 1_000_000) / FRAME_RATE_HZ);
  const frame = new VideoFrame(pattern.canvas, { timestamp });
  const audio = patternAudio(
    from * SAMPLES_PER_FRAME,
    (latest + 1 - from) * SAMPLES_PER_FRAME,
    pattern.index,
  );
  const message: PatternPicture = { frame, audio: [audio] };
  pattern.port.postMessage(message, [frame, audio.buffer]);
}

tick();
