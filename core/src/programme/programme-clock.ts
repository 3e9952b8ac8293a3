/**
 * The programme clock: the one time of video and audio. It counts audio samples, because audio cannot be
 * stretched by a hair without being heard, while a frame can be shown a few milliseconds sooner or later.
 * It starts at zero with the show and knows nothing of the day; only media is timed by it.
 *
 * *Show time* is this clock told to people: what is said, written, cut and exported carries it.
 */

/** Samples a second, everywhere: what Opus works at inside, so nothing has to be resampled. */
export const SAMPLE_RATE_HZ = 48_000;
/** The usual programme's frames a second, and the slate's in every programme. */
export const FRAME_RATE_HZ = 30;
/** Samples to one of these frames. */
export const SAMPLES_PER_FRAME = SAMPLE_RATE_HZ / FRAME_RATE_HZ;
/** Seconds from one keyframe to the next: the shortest that the places together accept. */
export const KEYFRAME_INTERVAL_S = 2;

/** Show time in µs, as WebCodecs counts, of a number of samples from the start. */
export function samplesToUs(samples: number): number {
  assertCount('samples', samples);
  return Math.round((samples * 1_000_000) / SAMPLE_RATE_HZ);
}

/** Show time in whole ms. Rounded down, so that a moment is never named before it was reached. */
export function samplesToMs(samples: number): number {
  assertCount('samples', samples);
  return Math.floor((samples * 1000) / SAMPLE_RATE_HZ);
}

/** The number of the frame that is on screen when `samples` have sounded, from 0. */
export function frameAt(samples: number): number {
  assertCount('samples', samples);
  return Math.floor(samples / SAMPLES_PER_FRAME);
}

/** Show time in µs of frame `frame` at so many frames a second: never drifts, however long the show. */
export function frameToUs(frame: number, rateHz: number = FRAME_RATE_HZ): number {
  assertCount('frame', frame);
  return Math.round((frame * 1_000_000) / rateHz);
}

/** `H:MM:SS`, for times of a show: `0:04:09`. Whole seconds that have gone by. */
export function formatShowTime(ms: number): string {
  const total = Math.floor(Math.max(0, ms) / 1000);
  const [h, m, s] = [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60];
  return `${h}:${String(m).padStart(2, '0')}:${String(s).padStart(2, '0')}`;
}

function assertCount(name: string, value: number): void {
  if (!Number.isSafeInteger(value) || value < 0) {
    throw new RangeError(`${name} must be a whole number of 0 or more, not ${value}`);
  }
}
