import fc from 'fast-check';
import { Ranges } from './ranges';

describe('Ranges', () => {
  it('is a set, whatever is put in and taken out', () => {
    const step = fc.record({ add: fc.boolean(), number: fc.nat(40) });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 120 }), (steps) => {
        const ranges = new Ranges();
        const model = new Set<number>();
        for (const { add, number } of steps) {
          const news = add ? ranges.add(number) : ranges.delete(number);
          expect(news).toBe(add ? !model.has(number) : model.has(number));
          if (add) model.add(number);
          else model.delete(number);
        }
        for (let n = 0; n <= 41; n++) expect(ranges.has(n)).toBe(model.has(n));
        expect(ranges.count).toBe(model.size);
        expect(ranges.empty).toBe(model.size === 0);
        expect(ranges.first).toBe(model.size === 0 ? null : Math.min(...model));
        expect(ranges.touches(10, 12)).toBe([10, 11, 12].some((n) => model.has(n)));
      }),
    );
  });
});
