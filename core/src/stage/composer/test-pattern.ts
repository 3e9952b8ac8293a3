import { SAMPLE_RATE_HZ, SAMPLES_PER_FRAME } from '../../programme/programme-clock';
import type { Rect, Size } from '../rect';

/**
 * The test pattern: a picture and a sound by which everything on the way can be measured. It carries its own colour
 * and name for people; for machines the number of each frame as a row of light and dark fields, and, in the first
 * tenth of every second, a white field and a tone that begin at the same instant.
 */

/** Smaller than the programme: as large as most guests' frames are, and six of them can be made on two cores. */
export const PATTERN: Size = { width: 640, height: 360 };

/** Grounds that stay apart from one another, also for people who see few colours and after compression. */
export const PATTERN_COLOURS = [
  '#2f5d8a',
  '#8a6a1f',
  '#2f7a57',
  '#7a3f6b',
  '#5c5c5c',
  '#8a4a3a',
  '#3f6f7a',
  '#6b7a2f',
] as const;

export const patternColour = (index: number): string => PATTERN_COLOURS[index % PATTERN_COLOURS.length]!;

/** For this long from the beginning of each second the flash shows and the beep sounds. */
export const FLASH_SAMPLES = SAMPLE_RATE_HZ / 10;
const BEEP_PEAK = 0.35;
/** Without edges that click. */
const BEEP_RAMP_SAMPLES = 96;

/** Bits of a frame's number, and of the sum by which a misread one is found. */
const NUMBER_BITS = 20;
const SUM_BITS = 4;
export const CODE_FIELDS = NUMBER_BITS + SUM_BITS;

/** Of the frame's width: what the narrowest place in a layout still shows is a little more. */
const READ_WIDTH = 0.38;
const CODE_ROWS = 2;

/** Where the parts of the pattern stand, in a frame of this size. */
export function patternParts(size: Size = PATTERN): { code: Rect[]; flash: Rect } {
  // Everything that is read stands in the middle, which no layout crops.
  const inRow = CODE_FIELDS / CODE_ROWS;
  const field = Math.floor((size.width * READ_WIDTH) / inRow);
  const height = Math.floor(size.height / 14);
  const top = Math.floor(size.height * 0.5);
  const left = Math.floor((size.width - field * inRow) / 2);
  const code = Array.from({ length: CODE_FIELDS }, (_, i) => ({
    x: left + (i % inRow) * field,
    y: top + Math.floor(i / inRow) * height,
    width: field,
    height,
  }));
  const side = Math.floor(size.height / 4);
  return {
    code,
    flash: {
      x: Math.floor(size.width / 2 - side / 2),
      y: Math.floor(size.height * 0.06),
      width: side,
      height: side,
    },
  };
}

/** The fields of a frame's number, the highest bit first; true is light. Numbers begin anew after 2^20. */
export function codeOf(frame: number): boolean[] {
  const number = frame % 2 ** NUMBER_BITS;
  const sum = sumOf(number);
  return Array.from({ length: CODE_FIELDS }, (_, i) =>
    i < NUMBER_BITS
      ? ((number >> (NUMBER_BITS - 1 - i)) & 1) === 1
      : ((sum >> (CODE_FIELDS - 1 - i)) & 1) === 1,
  );
}

/** The number that some fields say; null when their sum does not fit. */
export function readCode(fields: readonly boolean[]): number | null {
  if (fields.length !== CODE_FIELDS) throw new RangeError(`there must be ${CODE_FIELDS} fields`);
  const value = (from: number, to: number) =>
    fields.slice(from, to).reduce((sum, light) => sum * 2 + (light ? 1 : 0), 0);
  const number = value(0, NUMBER_BITS);
  return value(NUMBER_BITS, CODE_FIELDS) === sumOf(number) ? number : null;
}

/** Inverted, so that a row of nothing but dark fields says nothing. */
const sumOf = (number: number): number => {
  let sum = 0;
  for (let rest = number; rest > 0; rest >>= 4) sum += rest & 15;
  return ~sum & 15;
};

/** Whether a frame of the pattern flashes. */
export const flashesAt = (frame: number): boolean =>
  (frame * SAMPLES_PER_FRAME) % SAMPLE_RATE_HZ < FLASH_SAMPLES;

/** The pattern's audio from a sample on. Each source has a pitch of its own. */
export function patternAudio(fromSample: number, count: number, index: number): Float32Array<ArrayBuffer> {
  const pitchHz = 880 + 110 * (index % 8);
  const audio = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const into = (fromSample + i) % SAMPLE_RATE_HZ;
    if (into >= FLASH_SAMPLES) continue;
    const ramp = Math.min(1, into / BEEP_RAMP_SAMPLES, (FLASH_SAMPLES - into) / BEEP_RAMP_SAMPLES);
    audio[i] = BEEP_PEAK * ramp * Math.sin((2 * Math.PI * pitchHz * into) / SAMPLE_RATE_HZ);
  }
  return audio;
}
