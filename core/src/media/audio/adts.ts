/** AAC frames in ADTS, as an encoder outside writes them. ISO/IEC 14496-3, 1.A.2. */

/** Samples of one AAC-LC frame (ISO/IEC 14496-3, 4.5.2.1.1). */
export const AAC_FRAME_SAMPLES = 1024;
const HEADER_BYTES = 7;

/** Sampling frequencies by their index: ISO/IEC 14496-3, table 1.18. */
export const AAC_RATES_HZ = [
  96_000, 88_200, 64_000, 48_000, 44_100, 32_000, 24_000, 22_050, 16_000, 12_000, 11_025, 8000, 7350,
] as const;

export interface DecodedAdts {
  /** Frames without their headers: views into what was given. */
  readonly frames: readonly Uint8Array[];
  /** AudioSpecificConfig of the first frame (1.6.2.1); null when there was none. */
  readonly config: Uint8Array | null;
  readonly consumed: number;
}

/** The whole frames at the start of `bytes`. Throws a RangeError on bytes that are not ADTS. */
export function decodeAdts(bytes: Uint8Array): DecodedAdts {
  const frames: Uint8Array[] = [];
  let config: Uint8Array | null = null;
  let at = 0;
  while (bytes.length - at >= HEADER_BYTES) {
    if (bytes[at] !== 0xff || (bytes[at + 1]! & 0xf6) !== 0xf0) throw new RangeError('not a frame of ADTS');
    const header = bytes[at + 1]! & 1 ? HEADER_BYTES : HEADER_BYTES + 2;
    const length = ((bytes[at + 3]! & 3) << 11) | (bytes[at + 4]! << 3) | (bytes[at + 5]! >> 5);
    if (length < header) throw new RangeError('a frame of ADTS shorter than its header');
    if (bytes.length - at < length) break;
    config ??= configOf(bytes[at + 2]!, bytes[at + 3]!);
    frames.push(bytes.subarray(at + header, at + length));
    at += length;
  }
  return { frames, config, consumed: at };
}

function configOf(third: number, fourth: number): Uint8Array {
  const objectType = (third >> 6) + 1;
  const rate = (third >> 2) & 15;
  const channels = ((third & 1) << 2) | (fourth >> 6);
  return Uint8Array.from([(objectType << 3) | (rate >> 1), ((rate & 1) << 7) | (channels << 3)]);
}

/** What an AudioSpecificConfig says: ISO/IEC 14496-3, 1.6.2.1. */
export interface AacFigures {
  /** Audio object type: 2 is AAC-LC. */
  readonly objectType: number;
  readonly rateHz: number;
  /** 0: said elsewhere in the stream. */
  readonly channels: number;
}

/** Null: cut short, or of a rate that there is not. */
export function readAacConfig(config: Uint8Array): AacFigures | null {
  if (config.length < 2) return null;
  const rateHz = AAC_RATES_HZ[((config[0]! & 7) << 1) | (config[1]! >> 7)];
  return rateHz ? { objectType: config[0]! >> 3, rateHz, channels: (config[1]! >> 3) & 15 } : null;
}
