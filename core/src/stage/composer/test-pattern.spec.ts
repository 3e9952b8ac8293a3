import fc from 'fast-check';
import { cropToFill, LAYOUTS, MOST_IN_PICTURE, placesOf } from '../layouts';
import { PROGRAMME } from '../rect';
import {
  codeOf,
  flashesAt,
  FLASH_SAMPLES,
  PATTERN,
  patternParts,
  patternAudio,
  readCode,
} from './test-pattern';

describe('the test pattern', () => {
  it('says the number of each picture, and a misread one is found', () => {
    fc.assert(
      fc.property(fc.nat(2 ** 20 - 1), fc.nat(23), (frame, wrong) => {
        const fields = codeOf(frame);
        expect(readCode(fields)).toBe(frame);
        expect(readCode(fields.map((light, i) => (i === wrong ? !light : light)))).toBeNull();
      }),
    );
    expect(readCode(codeOf(2 ** 20 + 5)))
      .withContext('begins anew')
      .toBe(5);
    expect(readCode(Array.from({ length: 24 }, () => false)))
      .withContext('no picture')
      .toBeNull();
  });

  it('flashes and beeps from the same sample on, once a second', () => {
    for (const second of [0, 1, 59]) {
      expect(flashesAt(second * 30)).toBeTrue();
      expect(flashesAt(second * 30 + 29)).toBeFalse();
      const audio = patternAudio(second * 48_000 - 100 * Math.sign(second), 400, 0);
      const first = audio.findIndex((sample) => Math.abs(sample) > 0.001);
      expect(first).toBeGreaterThanOrEqual(100 * Math.sign(second));
      expect(first).toBeLessThan(100 * Math.sign(second) + 10);
    }
    expect(patternAudio(FLASH_SAMPLES, 48_000 - FLASH_SAMPLES, 3).every((sample) => sample === 0)).toBeTrue();
  });

  it('sounds the same however it is cut', () => {
    const whole = patternAudio(0, 3200, 2);
    const parts = [...patternAudio(0, 1000, 2), ...patternAudio(1000, 2200, 2)];
    expect(parts).toEqual([...whole]);
  });

  it('keeps what is read where no layout crops it', () => {
    const { code, flash } = patternParts();
    for (const layout of LAYOUTS) {
      for (let count = 1; count <= MOST_IN_PICTURE; count++) {
        const people = Array.from({ length: count }, () => 'person' as const);
        for (const place of placesOf(layout, people, PROGRAMME)) {
          if (!place) continue;
          const crop = cropToFill(PATTERN, place);
          for (const part of [...code, flash]) {
            expect(part.x).toBeGreaterThanOrEqual(crop.x);
            expect(part.x + part.width).toBeLessThanOrEqual(crop.x + crop.width);
          }
        }
      }
    }
  });
});
