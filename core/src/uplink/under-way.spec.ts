import fc from 'fast-check';
import { UnderWay } from './under-way';

describe('what is under way on a line', () => {
  it('is what was sent and not told of', () => {
    const line = new UnderWay();
    expect([line.bytes, line.oldestMs(500)]).toEqual([0, 0]);
    line.sends(1000, 100);
    line.sends(500, 140);
    expect([line.bytes, line.oldestMs(600)]).toEqual([1500, 500]);
    line.arrives(1000, 600);
    expect([line.bytes, line.oldestMs(640)]).toEqual([500, 500]);
    line.arrives(1500, 650);
    expect([line.bytes, line.oldestMs(9000)]).toEqual([0, 0]);
  });

  it('is as old as its oldest part, also when that came in half', () => {
    const line = new UnderWay();
    line.sends(1000, 0);
    line.sends(1000, 300);
    line.arrives(999, 400);
    expect(line.oldestMs(500)).toBe(500);
    line.arrives(1000, 500);
    expect(line.oldestMs(500)).toBe(200);
  });

  it('has been old all the time only if nothing came to an end meanwhile', () => {
    const line = new UnderWay();
    line.sends(500, 0);
    line.arrives(500, 90);
    // A frame takes 600 ms to get through, and nothing waits behind it.
    line.sends(80_000, 100);
    line.arrives(80_500, 700);
    line.sends(2000, 710);
    expect(line.takeLeastWaitingMs(800)).toBe(0);
    // From here on everything waits.
    expect(line.takeLeastWaitingMs(1400)).toBe(690);
    line.arrives(82_500, 1410);
    expect(line.takeLeastWaitingMs(1900)).toBe(0);
  });

  it('does not wait on a long line, and does on one that carries too little, long or not', () => {
    /** What a line of this length does that carries so much: the worst waiting in each half second. */
    const worst = (lengthMs: number, carriesKbps: number) => {
      const line = new UnderWay();
      const arrivals: { atMs: number; bytes: number }[] = [];
      const found: number[] = [];
      let sent = 0;
      let freeAtMs = 0;
      for (let nowMs = 0; nowMs <= 12_000; nowMs += 20) {
        for (; arrivals[0] && arrivals[0].atMs <= nowMs; arrivals.shift())
          line.arrives(arrivals[0].bytes, nowMs);
        // 4 Mbit/s, told of as soon as it is there.
        line.sends(10_000, nowMs);
        sent += 10_000;
        freeAtMs = Math.max(freeAtMs, nowMs) + 80_000 / carriesKbps;
        arrivals.push({ atMs: freeAtMs + lengthMs, bytes: sent });
        if (nowMs % 500 === 0 && nowMs > 0) found.push(line.takeLeastWaitingMs(nowMs));
      }
      return Math.max(...found);
    };
    for (const lengthMs of [20, 150, 450, 900, 1800])
      expect(worst(lengthMs, 20_000)).withContext(`${lengthMs} ms`).toBeLessThan(300);
    for (const lengthMs of [20, 450, 900])
      expect(worst(lengthMs, 2400)).withContext(`${lengthMs} ms, narrow`).toBeGreaterThan(500);
  });

  it('tells the rate at which it is sent, from the first second on', () => {
    const line = new UnderWay();
    const perS = (fromMs: number, toMs: number, bytes: number) => {
      for (let at = fromMs; at < toMs; at += 50) line.sends(bytes / 20, at);
    };
    // One step of the above more or less.
    const expectAbout = (nowMs: number, kbps: number) =>
      expect(Math.abs(line.sentKbps(nowMs) - kbps))
        .withContext(`${nowMs} ms`)
        .toBeLessThan(0.02 * kbps);
    expect(line.sentKbps(0)).toBe(0);
    perS(0, 500, 500_000);
    // Half a second is not taken for all there is.
    expectAbout(500, 2000);
    perS(500, 6000, 500_000);
    expectAbout(6000, 4000);
    perS(6000, 9000, 125_000);
    expectAbout(9000, 1000);
    expect(line.sentKbps(13_000)).toBe(0);
  });

  it('tells the rate at which it arrives, once that can be said', () => {
    const line = new UnderWay();
    for (let at = 0; at <= 4000; at += 100) {
      line.sends(50_000, at);
      line.arrives(at * 250, at);
      if (at < 500) expect(line.arrivedKbps).toBeNull();
    }
    expect(line.arrivedKbps).toBeCloseTo(2000, 0);
  });

  it('is never less than nothing, whatever is told', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.boolean(), fc.nat(50_000), fc.nat(400)), { minLength: 1, maxLength: 60 }),
        (steps) => {
          const line = new UnderWay();
          let nowMs = 0;
          for (const [sends, bytes, laterMs] of steps) {
            nowMs += laterMs;
            if (sends) line.sends(bytes, nowMs);
            else line.arrives(bytes, nowMs);
            expect(line.bytes).toBeGreaterThanOrEqual(0);
            expect(line.oldestMs(nowMs)).toBeGreaterThanOrEqual(0);
            expect(line.sentKbps(nowMs)).toBeGreaterThanOrEqual(0);
            expect(line.takeLeastWaitingMs(nowMs)).toBeLessThanOrEqual(nowMs);
            expect(line.arrivedKbps ?? 0).toBeGreaterThanOrEqual(0);
          }
        },
      ),
    ));
});
