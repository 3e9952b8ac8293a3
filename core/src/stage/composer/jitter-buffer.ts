import { SAMPLE_RATE_HZ } from '../../programme/programme-clock';

const ms = (value: number): number => (value * SAMPLE_RATE_HZ) / 1000;

/**
 * What should wait before audio is taken out, ms. It is taken with each frame, in packets of 20 ms, one or two at a
 * time: 33 ms have to be there for that alone, and what is beyond bears packets that come late.
 */
export const AUDIO_WAIT_MS = 56;
/** More than this is let go at once: nobody wants to hear late what could be heard now. */
const MOST = ms(250);
/** The most by which the pace is bent: half a percent, a twelfth of a semitone. */
const MOST_BEND = 0.005;
/** How slowly the level is judged: about two seconds of pulls. */
const SMOOTHING = 0.02;

/**
 * One source's audio on its way into the mix. Sources run on clocks of their own, a hair faster or slower than the
 * programme's: what waits is held near a target by playing it a hair faster or slower, which nobody hears. A source
 * that stops gives silence, and begins again when enough waits: always with the same wait, so that its audio stays as far
 * from its video as it was.
 */
export class JitterBuffer {
  private left = new Float32Array(8192);
  private right = new Float32Array(8192);
  private length = 0;
  /** Where in the first waiting sample the next one is read, from 0 (included) to 1 (not). */
  private phase = 0;
  private running = false;
  private level: number;
  private readonly target: number;

  /** @param laterMs how much longer its audio is to wait than that of others, because its frames take that much longer */
  constructor(laterMs = 0) {
    this.target = ms(AUDIO_WAIT_MS + laterMs);
    this.level = this.target;
  }

  /** Samples that wait. */
  get waiting(): number {
    return this.length;
  }

  /** `right` is `left` for a source with one channel. */
  push(left: Float32Array, right: Float32Array = left): void {
    this.makeRoom(left.length);
    this.left.set(left, this.length);
    this.right.set(right, this.length);
    this.length += left.length;
    if (this.length > MOST) this.drop(this.length - this.target);
  }

  /** Adds the next samples to a mix, as loud as `gain` says. What is not there is silence. */
  mixInto(mixLeft: Float32Array, mixRight: Float32Array, gain: number): void {
    const count = mixLeft.length;
    if (!this.running) {
      if (this.length < this.target) return;
      // What came too late is let go: played now, it would keep all that follows late as well, until it is caught up with.
      this.drop(this.length - this.target);
      this.phase = 0;
      this.running = true;
      this.level = this.length;
    }
    this.level += (this.length - this.level) * SMOOTHING;
    const bend = Math.max(-MOST_BEND, Math.min(MOST_BEND, (this.level - this.target) / ms(4000)));
    const step = 1 + bend;
    for (let i = 0; i < count; i++) {
      const at = Math.floor(this.phase);
      if (at + 1 >= this.length) {
        this.running = false;
        break;
      }
      const part = this.phase - at;
      mixLeft[i]! += gain * (this.left[at]! * (1 - part) + this.left[at + 1]! * part);
      mixRight[i]! += gain * (this.right[at]! * (1 - part) + this.right[at + 1]! * part);
      this.phase += step;
    }
    const used = Math.min(this.length, Math.floor(this.phase));
    this.phase -= Math.floor(this.phase);
    this.drop(used);
  }

  private drop(count: number): void {
    this.left.copyWithin(0, count, this.length);
    this.right.copyWithin(0, count, this.length);
    this.length -= count;
  }

  private makeRoom(more: number): void {
    if (this.length + more <= this.left.length) return;
    const size = 2 * (this.length + more);
    for (const side of ['left', 'right'] as const) {
      const larger = new Float32Array(size);
      larger.set(this[side].subarray(0, this.length));
      this[side] = larger;
    }
  }
}

/** Keeps a mix within what can be carried: louder sums bend instead of breaking. */
export function limit(samples: Float32Array): void {
  for (let i = 0; i < samples.length; i++) {
    const value = samples[i]!;
    if (value > 0.9 || value < -0.9)
      samples[i] = Math.sign(value) * (0.9 + 0.1 * Math.tanh((Math.abs(value) - 0.9) / 0.1));
  }
}
