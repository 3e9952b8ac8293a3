import fc from 'fast-check';
import { contains, overlap, withoutParts, type Rect } from './rect';

describe('an area without some parts of it', () => {
  const anyRect = (most: number) =>
    fc.record({
      x: fc.integer({ min: -5, max: most }),
      y: fc.integer({ min: -5, max: most }),
      width: fc.integer({ min: 1, max: most }),
      height: fc.integer({ min: 1, max: most }),
    });
  const areaOf = ({ width, height }: Rect) => width * height;

  it('is filled with them, without gaps and nowhere twice', () => {
    const area: Rect = { x: 0, y: 0, width: 20, height: 20 };
    fc.assert(
      fc.property(fc.array(anyRect(20), { maxLength: 6 }), (parts) => {
        const left = withoutParts(area, parts);
        for (const one of left) {
          expect(contains(area, one)).toBeTrue();
          if (parts.some((part) => overlap(one, part))) fail('a part is in what is left');
          if (left.some((other) => other !== one && overlap(one, other))) fail('some of it is there twice');
        }
        const cells = Array.from({ length: 400 }, (_, i) => ({
          x: i % 20,
          y: Math.floor(i / 20),
          width: 1,
          height: 1,
        }));
        const covered = cells.filter((cell) => parts.some((part) => overlap(cell, part))).length;
        expect(left.reduce((sum, one) => sum + areaOf(one), 0)).toBe(400 - covered);
      }),
    );
  });
});
