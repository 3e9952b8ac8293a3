import fc from 'fast-check';
import { adviseRate, followedFrom, followUplink, LEAST_PICTURE_KBPS, UPLINK_SHARE } from './uplink-rate';

const SOUND = 160;
const places = [
  { name: 'Wide', maxKbps: 8000 },
  { name: 'Narrow', maxKbps: 3200 },
];

describe('the advice of what to send', () => {
  const CASES = [
    ['with nothing in the way', [], null, 4000, null, 'unknown'],
    ['with a wide line', [], 50_000, 4000, null, 'plenty'],
    ['with a line that is just wide enough', [], 7000, 4000, null, 'enough'],
    ['with a strict place', places, 50_000, 2887, { destination: 'Narrow' }, 'plenty'],
    ['with a line narrower than any place', places, 3000, 1790, 'uplink', 'enough'],
    ['with a line that carries no programme', places, 900, LEAST_PICTURE_KBPS, 'uplink', 'short'],
  ] as const;
  for (const [what, limits, uplinkKbps, pictureKbps, limitedBy, uplink] of CASES) {
    it(`${what} is ${pictureKbps} kbit/s`, () =>
      expect(adviseRate(4000, SOUND, limits, uplinkKbps)).toEqual({ pictureKbps, limitedBy, uplink }));
  }
  it('fits every place and the line with headroom, or says that it is short', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1200, max: 20_000 }),
        fc.integer({ min: 100, max: 100_000 }),
        (maxKbps, uplinkKbps) => {
          const advice = adviseRate(4000, SOUND, [{ name: 'One', maxKbps }], uplinkKbps);
          if (advice.uplink === 'short') return;
          expect(advice.pictureKbps + SOUND).toBeLessThanOrEqual(maxKbps);
          expect(advice.pictureKbps + SOUND).toBeLessThanOrEqual(uplinkKbps * UPLINK_SHARE + 1);
        },
      ),
    ));
  it('is none for less than the least', () =>
    expect(() => adviseRate(100, SOUND, [], null)).toThrowError(RangeError));
});

describe('the rate on air', () => {
  /** A line of so many kbit/s, for so many windows of half a second. */
  function onLine(lineKbps: (window: number) => number, windows: number, ceiling = 4000) {
    let rate = followedFrom(ceiling);
    let waiting = 0;
    const rates: number[] = [];
    for (let i = 0; i < windows; i++) {
      waiting = Math.max(0, waiting + ((rate.kbps + SOUND - lineKbps(i)) * 1000) / 8 / 2);
      rate = followUplink(rate, waiting, SOUND, ceiling);
      rates.push(rate.kbps);
    }
    return { rates, waiting };
  }

  it('stays where it is while the line carries it', () =>
    expect(new Set(onLine(() => 20_000, 200).rates)).toEqual(new Set([4000])));

  it('is below what a narrower line carries within seconds, and nothing piles up', () => {
    const { rates, waiting } = onLine(() => 2000, 120);
    expect(rates[12]!).toBeLessThan(2000);
    expect((waiting * 8) / 2000).toBeLessThan(1500);
    expect(Math.max(...rates.slice(30))).toBeLessThan(2600);
  });

  it('is back at the full rate within two minutes after a bad while', () => {
    const { rates } = onLine((i) => (i < 40 ? 1500 : 20_000), 280);
    expect(Math.min(...rates)).toBeLessThan(1500);
    expect(rates.at(-1)).toBe(4000);
  });

  it('is never outside its bounds, whatever the line does', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 5_000_000 }), { minLength: 1 }), (waits) => {
        let rate = followedFrom(4000);
        for (const waiting of waits) {
          rate = followUplink(rate, waiting, SOUND, 4000);
          expect(rate.kbps).toBeGreaterThanOrEqual(LEAST_PICTURE_KBPS);
          expect(rate.kbps).toBeLessThanOrEqual(4000);
        }
      }),
    ));
});
