import fc from 'fast-check';
import {
  adviseRate,
  backlogRoom,
  followedFrom,
  followUplink,
  LEAST_VIDEO_KBPS,
  UPLINK_SHARE,
} from './uplink-rate';

const AUDIO = 160;
const PICTURE = { wantedKbps: 4000, leastKbps: LEAST_VIDEO_KBPS };
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
    ['with a line that carries no programme', places, 900, LEAST_VIDEO_KBPS, 'uplink', 'short'],
  ] as const;
  for (const [what, limits, uplinkKbps, videoKbps, limitedBy, uplink] of CASES) {
    it(`${what} is ${videoKbps} kbit/s`, () =>
      expect(adviseRate(PICTURE, AUDIO, limits, uplinkKbps)).toEqual({ videoKbps, limitedBy, uplink }));
  }
  it('fits every place and the line with headroom, or says that it is short', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: 1200, max: 20_000 }),
        fc.integer({ min: 100, max: 100_000 }),
        (maxKbps, uplinkKbps) => {
          const advice = adviseRate(PICTURE, AUDIO, [{ name: 'One', maxKbps }], uplinkKbps);
          if (advice.uplink === 'short') return;
          expect(advice.videoKbps + AUDIO).toBeLessThanOrEqual(maxKbps);
          expect(advice.videoKbps + AUDIO).toBeLessThanOrEqual(uplinkKbps * UPLINK_SHARE + 1);
        },
      ),
    ));
  it('is none for less than the least', () =>
    expect(() => adviseRate({ ...PICTURE, wantedKbps: 100 }, AUDIO, [], null)).toThrowError(RangeError));
});

describe('the rate on air', () => {
  /**
   * A line of so many kbit/s, for so many windows of half a second.
   *
   * @param needsKbps what the video takes when nothing holds it down
   */
  function onLine(lineKbps: (window: number) => number, windows: number, needsKbps = Infinity) {
    const ceiling = 4000;
    let rate = followedFrom(ceiling);
    let waiting = 0;
    let longestMs = 0;
    const rates: number[] = [];
    const sent: number[] = [];
    const arrived: number[] = [];
    for (let i = 0; i < windows; i++) {
      sent.push(Math.min(rate.kbps, needsKbps) + AUDIO);
      const carries = lineKbps(i);
      arrived.push(Math.min(carries, sent.at(-1)! + (waiting * 8 * 2) / 1000));
      waiting += ((sent.at(-1)! - arrived.at(-1)!) * 1000) / 8 / 2;
      longestMs = Math.max(longestMs, (waiting * 8) / carries);
      // As the uplink counts it: over some seconds.
      const lately = (of: readonly number[]) => of.slice(-4).reduce((a, b) => a + b) / Math.min(4, of.length);
      // What waits was sent at this rate, its oldest part so long ago.
      const waitingMs = (waiting * 8) / sent.at(-1)!;
      const seen = { waitingMs, sentKbps: lately(sent), arrivedKbps: lately(arrived) };
      rate = followUplink(rate, seen, AUDIO, ceiling);
      rates.push(rate.kbps);
    }
    return { rates, waiting, longestMs };
  }

  it('stays where it is while the line carries it', () =>
    expect(new Set(onLine(() => 20_000, 200).rates)).toEqual(new Set([4000])));

  it('is below what a narrower line carries within seconds, and nothing piles up', () => {
    const { rates, waiting } = onLine(() => 2000, 120);
    expect(rates[12]!).toBeLessThan(2000);
    expect((waiting * 8) / 2000).toBeLessThan(1500);
    expect(Math.max(...rates.slice(30))).toBeLessThan(2600);
  });

  it('is as quick with a picture that takes less than its rate', () => {
    const easy = onLine(() => 1400, 120, 1800);
    expect(easy.rates[8]!).toBeLessThan(1400);
    expect(easy.longestMs).toBeLessThan(1500);
    expect(new Set(onLine(() => 2000, 120, 1500).rates)).toEqual(new Set([4000]));
  });

  it('keeps viewers within some seconds, whatever the line carries and the picture takes', () =>
    fc.assert(
      fc.property(
        fc.integer({ min: LEAST_VIDEO_KBPS + AUDIO + 50, max: 5000 }),
        fc.integer({ min: LEAST_VIDEO_KBPS, max: 6000 }),
        (line, needs) => {
          const { longestMs, waiting } = onLine(() => line, 200, needs);
          expect(longestMs).toBeLessThan(4000);
          expect((waiting * 8) / line).toBeLessThan(2000);
        },
      ),
    ));

  it('is back at the full rate within two minutes after a bad while', () => {
    const { rates } = onLine((i) => (i < 40 ? 1500 : 20_000), 280);
    expect(Math.min(...rates)).toBeLessThan(1500);
    expect(rates.at(-1)).toBe(4000);
  });

  it('is never outside its bounds, whatever the line does', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 50_000 }), { minLength: 1 }), (waits) => {
        let rate = followedFrom(4000);
        for (const waiting of waits) {
          rate = followUplink(
            rate,
            {
              waitingMs: waiting,
              sentKbps: waiting % 5000,
              arrivedKbps: waiting % 3 ? waiting % 4000 : null,
            },
            AUDIO,
            4000,
          );
          expect(rate.kbps).toBeGreaterThanOrEqual(LEAST_VIDEO_KBPS);
          expect(rate.kbps).toBeLessThanOrEqual(4000);
        }
      }),
    ));
});

describe('what was missed', () => {
  it('may fill the line while what is live gets through', () => expect(backlogRoom(150, 0)).toBe(300_000));

  it('may have no more under way than that', () => {
    expect(backlogRoom(0, 250_000)).toBe(50_000);
    expect(backlogRoom(0, 900_000)).toBe(0);
  });

  it('waits before the picture would have to be softer for it', () => {
    const seen = { waitingMs: 500, sentKbps: 4000, arrivedKbps: null };
    expect(followUplink(followedFrom(4000), seen, AUDIO, 4000).kbps).toBe(4000);
    expect(backlogRoom(500, 0)).toBe(0);
  });

  it('gets less the more of the programme waits', () =>
    fc.assert(
      fc.property(fc.nat(2000), fc.nat(2000), fc.nat(400_000), (one, other, own) => {
        const [less, more] = [Math.min(one, other), Math.max(one, other)];
        const room = (waitingMs: number) => backlogRoom(waitingMs, own);
        expect(room(more)).toBeLessThanOrEqual(room(less));
        expect(room(more)).toBeGreaterThanOrEqual(0);
        expect(room(less) + own).toBeLessThanOrEqual(Math.max(own, 300_000));
      }),
    ));
});
