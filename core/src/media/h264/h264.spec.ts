import fc from 'fast-check';
import {
  configurationRecord,
  findParameterSets,
  readConfigurationRecord,
  splitLengths,
  splitUnits,
  UNIT,
  unitKind,
  withLengths,
} from './h264';

/** A unit as an encoder makes it: no start code inside (that is what emulation prevention is for), no zero at its end. */
const unit = fc
  .tuple(fc.constantFrom(UNIT.slice, UNIT.keySlice, UNIT.sei), fc.uint8Array({ minLength: 0, maxLength: 40 }))
  .map(([kind, rest]) => {
    const bytes = [kind, ...rest];
    for (let i = 2; i < bytes.length; i++) {
      if (bytes[i - 2] === 0 && bytes[i - 1] === 0 && bytes[i]! <= 3) bytes[i] = 7;
    }
    return Uint8Array.from([...bytes, 0x80]);
  });
const withStartCodes = (units: Uint8Array[], longCodes: boolean[]) =>
  Uint8Array.from(units.flatMap((one, i) => [...(longCodes[i] ? [0] : []), 0, 0, 1, ...one]));

const SPS = Uint8Array.of(0x67, 0x42, 0xc0, 0x1f, 0x9a);
const PPS = Uint8Array.of(0x68, 0xce, 0x3c, 0x80);

describe('H.264 units', () => {
  it('are found between start codes of either length', () => {
    const units = fc.array(unit, { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(units, fc.array(fc.boolean(), { minLength: 6, maxLength: 6 }), (sent, longCodes) => {
        expect(splitUnits(withStartCodes(sent, longCodes))).toEqual(sent);
      }),
    );
  });

  it('are none where there is no start code', () => {
    expect(splitUnits(Uint8Array.of(1, 2, 3, 4))).toEqual([]);
    expect(splitUnits(new Uint8Array(0))).toEqual([]);
    expect(splitUnits(Uint8Array.of(0, 0, 1))).toEqual([]);
  });

  it('come back from their lengths, without delimiters', () => {
    fc.assert(
      fc.property(fc.array(unit, { maxLength: 6 }), (sent) => {
        const delimiter = Uint8Array.of(UNIT.delimiter, 0xf0);
        expect(splitLengths(withLengths([delimiter, ...sent]))).toEqual(sent);
      }),
    );
  });

  it('with a length beyond the end are refused', () => {
    for (const bytes of [
      [0, 0, 0, 9, 1],
      [0, 0],
      [255, 255, 255, 255, 1],
    ]) {
      expect(() => splitLengths(Uint8Array.from(bytes))).toThrowError(RangeError);
    }
  });
});

describe('parameter sets', () => {
  it('are found among other units, and only when both are there', () => {
    const slice = Uint8Array.of(UNIT.keySlice, 1);
    expect(findParameterSets([SPS, PPS, slice])).toEqual({ sps: SPS, pps: PPS });
    expect(findParameterSets([SPS, slice])).toBeNull();
    expect(unitKind(SPS)).toBe(UNIT.sequenceParameters);
  });

  it('come back from the configuration record, which names profile and level', () => {
    const record = configurationRecord({ sps: SPS, pps: PPS });
    expect([...record.subarray(0, 5)]).toEqual([1, 0x42, 0xc0, 0x1f, 0xff]);
    expect(readConfigurationRecord(record)).toEqual({ sps: SPS, pps: PPS });
  });

  it('that are cut short are refused', () => {
    const record = configurationRecord({ sps: SPS, pps: PPS });
    for (let cut = 0; cut < record.length; cut++) {
      expect(() => readConfigurationRecord(record.subarray(0, cut))).toThrowError(RangeError);
    }
  });
});
