import { BitReader, withoutEmulation } from './bits';
import { unitKind, UNIT } from './h264';

/** What a sequence parameter set says of the pictures. */
export interface SequenceFigures {
  /** `profile_idc`: 66 baseline, 77 main, 100 high (ITU-T H.264, A.2). */
  readonly profileIdc: number;
  /** `level_idc`: 31 is level 3.1. */
  readonly levelIdc: number;
  /** Pixels, as shown. */
  readonly width: number;
  readonly height: number;
  readonly chroma: '4:0:0' | '4:2:0' | '4:2:2' | '4:4:4';
  readonly bitDepth: number;
  readonly isInterlaced: boolean;
  /** Frames a second as the encoder says; null: it does not, or they vary. */
  readonly rateHz: number | null;
  /** How many frames may be shown in another order than they come; null: it is not said. */
  readonly reordered: number | null;
}

const CHROMAS = ['4:0:0', '4:2:0', '4:2:2', '4:4:4'] as const;
/** Profiles whose parameter sets say how colour is stored (7.3.2.1.1). */
const WITH_CHROMA = new Set([100, 110, 122, 244, 44, 83, 86, 118, 128, 138, 139, 134, 135]);
/** Whoever claims more wants to exhaust us. */
const LARGEST = 16_384;

/** Reads a sequence parameter set (7.3.2.1.1, E.1.1). Throws a RangeError on one that cannot be. */
export function readSequence(sps: Uint8Array): SequenceFigures {
  if (sps.length < 4 || unitKind(sps) !== UNIT.sequenceParameters)
    throw new RangeError('no sequence parameter set');
  const bits = new BitReader(withoutEmulation(sps.subarray(1)));
  const profileIdc = bits.bits(8);
  bits.bits(8);
  const levelIdc = bits.bits(8);
  bits.unsigned();
  const { chroma, bitDepth } = WITH_CHROMA.has(profileIdc) ? readChroma(bits) : { chroma: 1, bitDepth: 8 };
  bits.unsigned();
  skipOrder(bits);
  bits.unsigned();
  bits.bit();
  const across = bits.unsigned() + 1;
  const down = bits.unsigned() + 1;
  const isInterlaced = bits.bit() === 0;
  if (isInterlaced) bits.bit();
  bits.bit();
  const rows = isInterlaced ? 2 : 1;
  // Cropping counts in units of chroma (7.4.2.1.1).
  const unitX = chroma === 1 || chroma === 2 ? 2 : 1;
  const unitY = (chroma === 1 ? 2 : 1) * rows;
  const crop = bits.bit() === 1 ? [0, 0, 0, 0].map(() => bits.unsigned()) : [0, 0, 0, 0];
  const width = across * 16 - unitX * (crop[0]! + crop[1]!);
  const height = down * 16 * rows - unitY * (crop[2]! + crop[3]!);
  if (!(width > 0 && height > 0 && width <= LARGEST && height <= LARGEST)) {
    throw new RangeError('a picture of a size that cannot be');
  }
  const { rateHz, reordered } = bits.bit() === 1 ? readUsability(bits) : { rateHz: null, reordered: null };
  return {
    ...{ profileIdc, levelIdc, width, height, isInterlaced, rateHz, bitDepth },
    chroma: CHROMAS[chroma]!,
    // In baseline there is no other order (A.2.1).
    reordered: profileIdc === 66 ? 0 : reordered,
  };
}

function readChroma(bits: BitReader): { chroma: number; bitDepth: number } {
  const chroma = bits.unsigned();
  if (chroma > 3) throw new RangeError('colour that is stored in no known way');
  if (chroma === 3) bits.bit();
  const bitDepth = 8 + bits.unsigned();
  bits.unsigned();
  bits.bit();
  if (bits.bit() === 1) {
    for (let list = 0; list < (chroma === 3 ? 12 : 8); list++)
      if (bits.bit() === 1) skipScaling(bits, list < 6 ? 16 : 64);
  }
  return { chroma, bitDepth };
}

function skipScaling(bits: BitReader, size: number): void {
  let [last, next] = [8, 8];
  for (let i = 0; i < size; i++) {
    if (next !== 0) next = (last + bits.signed() + 256) % 256;
    last = next === 0 ? last : next;
  }
}

function skipOrder(bits: BitReader): void {
  const kind = bits.unsigned();
  if (kind === 0) bits.unsigned();
  if (kind !== 1) return;
  bits.bit();
  bits.signed();
  bits.signed();
  const count = bits.unsigned();
  if (count > 255) throw new RangeError('more frames in a cycle than there may be');
  for (let i = 0; i < count; i++) bits.signed();
}

/** The video usability information (E.1.1): only the rate and the order are wanted of it. */
function readUsability(bits: BitReader): Pick<SequenceFigures, 'rateHz' | 'reordered'> {
  if (bits.bit() === 1 && bits.bits(8) === EXTENDED_RATIO) bits.word();
  if (bits.bit() === 1) bits.bit();
  if (bits.bit() === 1) {
    bits.bits(4);
    if (bits.bit() === 1) bits.bits(24);
  }
  if (bits.bit() === 1) {
    bits.unsigned();
    bits.unsigned();
  }
  let rateHz: number | null = null;
  if (bits.bit() === 1) {
    const [tick, scale] = [bits.word(), bits.word()];
    bits.bit();
    // Two fields are a frame, whether or not they are sent apart.
    if (tick > 0 && scale > 0) rateHz = scale / tick / 2;
  }
  const nal = bits.bit() === 1;
  if (nal) skipTiming(bits);
  const vcl = bits.bit() === 1;
  if (vcl) skipTiming(bits);
  if (nal || vcl) bits.bit();
  bits.bit();
  if (bits.bit() === 0) return { rateHz, reordered: null };
  bits.bit();
  for (let i = 0; i < 4; i++) bits.unsigned();
  return { rateHz, reordered: bits.unsigned() };
}
const EXTENDED_RATIO = 255;

/** hrd_parameters (E.1.2). */
function skipTiming(bits: BitReader): void {
  const count = bits.unsigned() + 1;
  if (count > 32) throw new RangeError('more buffers than there may be');
  bits.bits(8);
  for (let i = 0; i < count; i++) {
    bits.unsigned();
    bits.unsigned();
    bits.bit();
  }
  bits.bits(20);
}
