import { Load } from './load';

describe('the load', () => {
  it('is what was taken of one core over the last seconds', () => {
    const load = new Load();
    const at = (s: number, cpuS: number) =>
      load.percent(s * 1000, { user: cpuS * 900_000, system: cpuS * 100_000 });
    expect(at(0, 10)).toBe(0);
    expect(at(1, 10.5)).toBe(50);
    expect(at(2, 11.5)).toBe(75);
    for (let s = 3; s <= 8; s++) expect(at(s, 11.5)).toBeLessThan(75);
    expect(at(9, 11.5)).toBe(0);
  });
});
