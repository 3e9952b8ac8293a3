import { beyondLimit, figuresOf, PICTURE_FORMATS } from './picture-format';

/** ITU-T H.264, table A-1: the most macroblocks a second, and the most in one frame. */
const LEVELS = new Map([
  [30, { perS: 40_500, inFrame: 1620 }],
  [31, { perS: 108_000, inFrame: 3600 }],
  [32, { perS: 216_000, inFrame: 5120 }],
  [40, { perS: 245_760, inFrame: 8192 }],
  [41, { perS: 245_760, inFrame: 8192 }],
  [42, { perS: 522_240, inFrame: 8704 }],
]);

describe('the format of a picture', () => {
  for (const format of PICTURE_FORMATS) {
    it(`${format} has the lowest level that holds it`, () => {
      const { width, height, rateHz, levelIdc } = figuresOf(format);
      const inFrame = Math.ceil(width / 16) * Math.ceil(height / 16);
      const holding = [...LEVELS].filter(
        ([, level]) => inFrame <= level.inFrame && inFrame * rateHz <= level.perS,
      );
      expect(levelIdc).toBe(holding[0]![0]);
    });

    it(`${format} is what its name says, and divides a second into whole samples`, () => {
      const { width, height, rateHz } = figuresOf(format);
      expect(`${height}p${rateHz}`).toBe(format);
      expect(width / height).toBeCloseTo(16 / 9, 6);
      expect(48_000 % rateHz).toBe(0);
    });
  }

  const CASES = [
    ['720p30', 720, 30, null],
    ['720p60', 720, 30, 'rate'],
    ['1080p30', 720, 60, 'size'],
    ['1080p60', 720, 30, 'size'],
    ['1080p60', 1080, 60, null],
  ] as const;
  for (const [format, maxHeight, maxFramesPerS, beyond] of CASES)
    it(`${format} is ${beyond ? `beyond a place’s ${beyond}` : 'taken'} at ${maxHeight} lines and ${maxFramesPerS} frames`, () =>
      expect(beyondLimit(format, { maxHeight, maxFramesPerS, shape: 'landscape' })).toBe(beyond));

  it('is never what an upright place takes', () =>
    expect(beyondLimit('720p30', { maxHeight: 1080, maxFramesPerS: 60, shape: 'upright_whole' })).toBe(
      'shape',
    ));
});
