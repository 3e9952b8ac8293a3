/**
 * A voice that says nothing: syllables of made-up speech, with pauses, at 48 kHz. Vowels are harmonics weighed by two
 * formants (the classic source-filter picture of speech), so that it sounds like somebody and means nothing.
 */
export const SAMPLE_RATE_HZ = 48_000;
export const LOOP_S = 9;
/** Everybody talks in a stretch of their own, so that several do not talk all at once. */
const TALKS_S = 4;

const VOWELS = [
  [730, 1090],
  [530, 1840],
  [390, 1990],
  [570, 840],
  [440, 1020],
] as const;
const FORMANT_WIDTH_HZ = 140;
const HARMONICS = 24;
const LOUDNESS = 0.3;

/** Numbers in [0, 1) that are the same at every run (mulberry32). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

export function speak(index: number): Float32Array {
  const random = seeded(index + 1);
  const samples = new Float32Array(LOOP_S * SAMPLE_RATE_HZ);
  const startS = (index * 3) % LOOP_S;
  const pitchHz = 105 + 35 * index;
  for (let atS = 0.2; atS < TALKS_S;) {
    const lengthS = 0.12 + 0.12 * random();
    const vowel = VOWELS[Math.floor(random() * VOWELS.length)]!;
    addSyllable(samples, startS + atS, lengthS, pitchHz * (0.92 + 0.2 * random()), vowel);
    // Words end now and then; so do sentences.
    atS += lengthS + (random() < 0.2 ? 0.25 : 0.03);
  }
  return samples;
}

function addSyllable(
  samples: Float32Array,
  atS: number,
  lengthS: number,
  pitchHz: number,
  formants: readonly [number, number],
): void {
  const count = Math.round(lengthS * SAMPLE_RATE_HZ);
  const from = Math.round(atS * SAMPLE_RATE_HZ);
  const weights = Array.from({ length: HARMONICS }, (_, i) => {
    const hz = pitchHz * (i + 1);
    return formants.reduce((sum, f) => sum + Math.exp(-(((hz - f) / FORMANT_WIDTH_HZ) ** 2)), 0.04 / (i + 1));
  });
  for (let i = 0; i < count; i++) {
    const swell = Math.sin((Math.PI * i) / count);
    const phase = (2 * Math.PI * pitchHz * i) / SAMPLE_RATE_HZ;
    let sum = 0;
    weights.forEach((weight, h) => (sum += weight * Math.sin(phase * (h + 1))));
    const at = (from + i) % samples.length;
    samples[at] = Math.max(-1, Math.min(1, samples[at]! + LOUDNESS * swell * sum * 0.4));
  }
}

/** How loud it is around an instant, 0 to 1: the mouth follows it. */
export function loudness(samples: Float32Array, atS: number): number {
  const from = Math.floor(atS * SAMPLE_RATE_HZ);
  let sum = 0;
  const span = 1600;
  for (let i = 0; i < span; i++) sum += samples[(from + i) % samples.length]! ** 2;
  return Math.min(1, Math.sqrt(sum / span) * 6);
}
