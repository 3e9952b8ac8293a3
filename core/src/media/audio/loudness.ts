/**
 * Loudness as ITU-R BS.1770-4 measures it, in LUFS: each channel is weighted as ears hear it (two filters, given for 48 kHz),
 * and their mean squares are added over a window.
 */
const RATE_HZ = 48_000;
/** "Short-term" in EBU Tech 3341. */
const WINDOW_S = 3;
/** Blocks that are added up; a window is so many of them. */
const BLOCK_S = 0.1;
const BLOCK_SAMPLES = RATE_HZ * BLOCK_S;
const BLOCKS = WINDOW_S / BLOCK_S;
/** What lies below is silence. LUFS. */
const FLOOR_LUFS = -70;
const OFFSET_LUFS = -0.691;

interface Biquad {
  readonly b: readonly [number, number, number];
  readonly a: readonly [number, number];
}
/** The head, as a sphere (BS.1770-4, table 1). */
const SHELF: Biquad = {
  b: [1.53512485958697, -2.69169618940638, 1.19839281085285],
  a: [-1.69065929318241, 0.73248077421585],
};
/** Low tones, which are heard less (table 2). */
const HIGH_PASS: Biquad = { b: [1, -2, 1], a: [-1.99004745483398, 0.99007225036621] };

/** The loudness of the last three seconds of sound at 48 kHz, in one or two channels. */
export class LoudnessMeter {
  private readonly channels = [new Weighted(), new Weighted()] as const;
  /** Mean squares of whole blocks, both channels together, the newest last. */
  private readonly blocks: number[] = [];
  private sum = 0;
  private count = 0;

  /** @param channels the same number of samples, -1 to 1; one alone is heard from both sides */
  take(channels: readonly Float32Array[]): void {
    const [left, right = left] = channels;
    if (!left || !right) return;
    for (let i = 0; i < left.length; i++) {
      this.sum += this.channels[0].square(left[i]!) + this.channels[1].square(right[i]!);
      if (++this.count < BLOCK_SAMPLES) continue;
      this.blocks.push(this.sum / BLOCK_SAMPLES);
      if (this.blocks.length > BLOCKS) this.blocks.shift();
      this.sum = 0;
      this.count = 0;
    }
  }

  /** LUFS; null: less than a block has come, or it is silence. */
  get lufs(): number | null {
    if (this.blocks.length === 0) return null;
    const mean = this.blocks.reduce((sum, one) => sum + one, 0) / this.blocks.length;
    const lufs = OFFSET_LUFS + 10 * Math.log10(mean);
    return lufs < FLOOR_LUFS ? null : lufs;
  }
}

/** One channel through both filters, each in its transposed direct form. */
class Weighted {
  private readonly state = new Float64Array(4);

  square(sample: number): number {
    const weighted = this.filter(HIGH_PASS, 2, this.filter(SHELF, 0, sample));
    return weighted * weighted;
  }

  private filter({ b, a }: Biquad, at: 0 | 2, x: number): number {
    const { state } = this;
    const y = b[0] * x + state[at]!;
    state[at] = b[1] * x - a[0] * y + state[at + 1]!;
    state[at + 1] = b[2] * x - a[1] * y;
    return y;
  }
}
