import fc from 'fast-check';
import {
  formatShowTime,
  frameAt,
  frameToUs,
  SAMPLE_RATE_HZ,
  samplesToMs,
  samplesToUs,
  SAMPLES_PER_FRAME,
} from './programme-clock';

const DAY_OF_SAMPLES = 25 * 3600 * SAMPLE_RATE_HZ;

describe('programme clock', () => {
  it('counts a second as a second', () => {
    expect(samplesToUs(SAMPLE_RATE_HZ)).toBe(1_000_000);
    expect(samplesToMs(SAMPLE_RATE_HZ)).toBe(1000);
    expect(frameAt(SAMPLE_RATE_HZ)).toBe(30);
  });

  it('shows one picture for as many samples as belong to it', () => {
    expect(frameAt(SAMPLES_PER_FRAME - 1)).toBe(0);
    expect(frameAt(SAMPLES_PER_FRAME)).toBe(1);
  });

  it('keeps picture and sound within a microsecond of each other for 25 hours', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: DAY_OF_SAMPLES / SAMPLES_PER_FRAME }), (frame) => {
        expect(Math.abs(frameToUs(frame) - samplesToUs(frame * SAMPLES_PER_FRAME))).toBeLessThanOrEqual(1);
        expect(frameAt(frame * SAMPLES_PER_FRAME)).toBe(frame);
      }),
    );
  });

  it('never goes back', () => {
    fc.assert(
      fc.property(fc.nat(DAY_OF_SAMPLES), fc.nat(10), (samples, more) => {
        expect(samplesToUs(samples + more)).toBeGreaterThanOrEqual(samplesToUs(samples));
      }),
    );
  });

  for (const wrong of [-1, 0.5, NaN, Infinity]) {
    it(`refuses ${wrong} samples`, () => {
      expect(() => samplesToUs(wrong)).toThrowError(RangeError);
    });
  }

  const texts: [number, string][] = [
    [0, '0:00:00'],
    [999, '0:00:00'],
    [249_000, '0:04:09'],
    [36_000_000, '10:00:00'],
    [-5, '0:00:00'],
  ];
  for (const [ms, text] of texts)
    it(`writes ${ms} ms as ${text}`, () => expect(formatShowTime(ms)).toBe(text));
});
