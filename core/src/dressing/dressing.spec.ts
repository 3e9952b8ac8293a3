import fc from 'fast-check';
import { toColour } from './colour';
import { contrast, contrastsOf, PLAIN_DRESSING } from './dressing';

describe('a dressing', () => {
  const CASES = [
    ['#000000', '#ffffff', 21],
    ['#ffffff', '#ffffff', 1],
    // Worked out by hand from the formula of WCAG 2.2: the greys next to its limit of 4.5.
    ['#767676', '#ffffff', 4.54],
    ['#777777', '#FFFFFF', 4.48],
    ['#ff0000', '#ffffff', 4],
  ] as const;
  for (const [a, b, ratio] of CASES)
    it(`has a contrast of ${ratio} between ${a} and ${b}`, () =>
      expect(contrast(a, b)).toBeCloseTo(ratio, 2));

  const colour = fc.integer({ min: 0, max: 0xffffff }).map((n) => `#${n.toString(16).padStart(6, '0')}`);
  it('has the same contrast either way, from 1 to 21', () =>
    fc.assert(
      fc.property(colour, colour, (a, b) => {
        expect(contrast(a, b)).toBe(contrast(b, a));
        expect(contrast(a, b)).toBeGreaterThanOrEqual(1);
        expect(contrast(a, b)).toBeLessThanOrEqual(21);
      }),
    ));

  it('can be read when nobody has chosen another', () => {
    for (const { of, ratio, least } of contrastsOf(PLAIN_DRESSING.palette))
      expect(ratio).withContext(of.join(' on ')).toBeGreaterThanOrEqual(least);
  });

  it('takes colours as they are written on the web, and nothing else', () => {
    expect(toColour('#1a2B3c')).toEqual([0x1a, 0x2b, 0x3c]);
    for (const wrong of ['#fff', 'red', '#12345g', '', '#1234567', 'url(x)'])
      expect(() => toColour(wrong))
        .withContext(wrong)
        .toThrowError(RangeError);
  });
});
