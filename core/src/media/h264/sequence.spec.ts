import fc from 'fast-check';
import { readSequence, type SequenceFigures } from './sequence';

const bytesOf = (hex: string) => Uint8Array.from(hex.match(/../g)!, (pair) => parseInt(pair, 16));

describe('a sequence parameter set', () => {
  /** As a common encoder writes them. */
  const CASES: readonly (readonly [string, string, Partial<SequenceFigures>])[] = [
    [
      '720p30, main',
      '674d401feca02802dd8088000003000800000301e078c18cb0',
      { profileIdc: 77, levelIdc: 31, width: 1280, height: 720, rateHz: 30 },
    ],
    [
      '1080p60, high, cropped',
      '6764002aacd940780227e5c044000003000400000301e03c60c658',
      { profileIdc: 100, levelIdc: 42, width: 1920, height: 1080, rateHz: 60 },
    ],
    [
      '4:2:2',
      '677a001ebcd940a02ff89c0440000003004000000c83c58b6580',
      { profileIdc: 122, width: 640, height: 360, chroma: '4:2:2', rateHz: 25 },
    ],
    [
      'interlaced',
      '6764001eacd940b424d8088000000300800000190f8a14cb',
      { width: 720, height: 576, isInterlaced: true, rateHz: 25 },
    ],
    [
      'baseline, which has no other order',
      '6742c00cd901419f9f0110000003001000000301e0f142a480',
      { profileIdc: 66, width: 320, height: 180, rateHz: 15, reordered: 0 },
    ],
    [
      '10 bit',
      '676e001fa6cd9405005bb011000003000100000300300f183196',
      { profileIdc: 110, bitDepth: 10, width: 1280, height: 720, rateHz: 24 },
    ],
  ];
  for (const [what, hex, figures] of CASES) {
    it(`tells ${what}`, () => {
      const usual = { chroma: '4:2:0', bitDepth: 8, isInterlaced: false } as const;
      expect(readSequence(bytesOf(hex))).toEqual(jasmine.objectContaining({ ...usual, ...figures }));
    });
  }

  it('is refused where it is cut short or of another kind', () => {
    const whole = bytesOf(CASES[0]![1]);
    for (const bytes of [
      new Uint8Array(0),
      whole.subarray(0, 6),
      whole.map((byte, i) => (i === 0 ? 0x68 : byte)),
    ])
      expect(() => readSequence(bytes)).toThrowError(RangeError);
  });

  it('is read or refused, whatever it holds', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 3, maxLength: 60 }), (tail) => {
        try {
          const { width, height } = readSequence(Uint8Array.of(0x67, ...tail));
          expect(width > 0 && height > 0 && width <= 16_384 && height <= 16_384).toBeTrue();
        } catch (error) {
          if (!(error instanceof RangeError)) throw error;
        }
      }),
      { numRuns: 3000 },
    );
  });
});
