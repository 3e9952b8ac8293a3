import { DelayLine } from './delay-line';

describe('a delay', () => {
  it('lets everything out in its turn, once, and not before its time', () => {
    let seed = 3;
    const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647;
    for (const delayMs of [0, 1, 5000, 60_000]) {
      const line = new DelayLine<{ n: number; atMs: number }>(delayMs);
      const out: number[] = [];
      let [nowMs, n] = [0, 0];
      for (let i = 0; i < 3000; i++) {
        nowMs += Math.floor(random() * 60);
        if (random() < 0.7) line.push({ n: n++, atMs: nowMs }, nowMs);
        for (const { n: one, atMs } of line.due(nowMs)) {
          out.push(one);
          expect(nowMs - atMs).toBeGreaterThanOrEqual(delayMs);
        }
      }
      out.push(...line.due(nowMs + delayMs).map((one) => one.n));
      expect(out).toEqual(Array.from({ length: n }, (_, i) => i));
      expect(line.length).toBe(0);
    }
  });

  it('gives back what is taken out, which never comes', () => {
    const line = new DelayLine<string>(1000);
    line.push('a', 0);
    line.push('b', 500);
    expect(line.due(1000)).toEqual(['a']);
    line.push('c', 1200);
    expect(line.drop()).toEqual(['b', 'c']);
    expect(line.due(99_999)).toEqual([]);
  });

  for (const wrong of [-1, NaN, Infinity])
    it(`of ${wrong} is none`, () => expect(() => new DelayLine(wrong)).toThrowError(RangeError));
});
