/**
 * H.264 as an encoder gives it (Annex B: units after start codes) and as FLV and MP4 carry it (units after their
 * length, with the parameter sets apart). ITU-T H.264, 7.3.1 and Annex B; ISO/IEC 14496-15, 5.3.3.
 */

/** Kinds of units, `nal_unit_type`: ITU-T H.264, table 7-1. */
export const UNIT = {
  slice: 1,
  keySlice: 5,
  sei: 6,
  sequenceParameters: 7,
  pictureParameters: 8,
  delimiter: 9,
} as const;

/** The units between the start codes, without them and without the zeros that may trail. Views, not copies. */
export function splitUnits(annexB: Uint8Array): Uint8Array[] {
  const units: Uint8Array[] = [];
  let start = -1;
  for (let i = 0; i + 2 < annexB.length; i++) {
    if (annexB[i] !== 0 || annexB[i + 1] !== 0 || annexB[i + 2] !== 1) continue;
    if (start >= 0) pushUnit(units, annexB, start, i);
    start = i + 3;
    i += 2;
  }
  if (start >= 0) pushUnit(units, annexB, start, annexB.length);
  return units;
}

function pushUnit(units: Uint8Array[], bytes: Uint8Array, from: number, to: number): void {
  // A unit never ends in a zero byte: such belong to the next start code (7.4.1, trailing_zero_8bits).
  let end = to;
  while (end > from && bytes[end - 1] === 0) end -= 1;
  if (end > from) units.push(bytes.subarray(from, end));
}

export const unitKind = (unit: Uint8Array): number => unit[0]! & 0x1f;

/** The parameter sets of a stream; what a decoder has to have before the first frame. */
export interface ParameterSets {
  readonly sps: Uint8Array;
  readonly pps: Uint8Array;
}

/** The parameter sets among some units; null when either is missing. */
export function findParameterSets(units: readonly Uint8Array[]): ParameterSets | null {
  const sps = units.find((unit) => unitKind(unit) === UNIT.sequenceParameters);
  const pps = units.find((unit) => unitKind(unit) === UNIT.pictureParameters);
  return sps && pps && sps.length >= 4 ? { sps, pps } : null;
}

/** AVCDecoderConfigurationRecord, with lengths of four bytes: ISO/IEC 14496-15, 5.3.3.1.2. */
export function configurationRecord({ sps, pps }: ParameterSets): Uint8Array {
  const head = [1, sps[1]!, sps[2]!, sps[3]!, 0xff, 0xe1, sps.length >> 8, sps.length & 0xff];
  const middle = [1, pps.length >> 8, pps.length & 0xff];
  return Uint8Array.from([...head, ...sps, ...middle, ...pps]);
}

/** The parameter sets in a configuration record. Throws a RangeError on one that is cut short or of another kind. */
export function readConfigurationRecord(record: Uint8Array): ParameterSets {
  if (record[0] !== 1 || (record[4]! & 3) !== 3)
    throw new RangeError('not a configuration record with lengths of 4 bytes');
  const spsEnd = 8 + ((record[6]! << 8) | record[7]!);
  const ppsStart = spsEnd + 3;
  const ppsEnd = ppsStart + ((record[spsEnd + 1]! << 8) | record[spsEnd + 2]!);
  if (!(ppsEnd <= record.length)) throw new RangeError('a configuration record that is cut short');
  return { sps: record.subarray(8, spsEnd), pps: record.subarray(ppsStart, ppsEnd) };
}

/**
 * Units with their lengths before them, as a tag carries a frame. Delimiters go: the container delimits.
 * Parameter sets stay: whoever joins in the middle finds them before every keyframe.
 */
export function withLengths(units: readonly Uint8Array[]): Uint8Array {
  const kept = units.filter((unit) => unitKind(unit) !== UNIT.delimiter);
  const bytes = new Uint8Array(kept.reduce((sum, unit) => sum + 4 + unit.length, 0));
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (const unit of kept) {
    view.setUint32(at, unit.length);
    bytes.set(unit, at + 4);
    at += 4 + unit.length;
  }
  return bytes;
}

/** The units of a frame with lengths. Throws a RangeError when a length points beyond the end. */
export function splitLengths(bytes: Uint8Array): Uint8Array[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const units: Uint8Array[] = [];
  for (let at = 0; at < bytes.length;) {
    const length = bytes.length - at >= 4 ? view.getUint32(at) : Infinity;
    if (length > bytes.length - at - 4) throw new RangeError('a unit that is longer than its picture');
    units.push(bytes.subarray(at + 4, at + 4 + length));
    at += 4 + length;
  }
  return units;
}
