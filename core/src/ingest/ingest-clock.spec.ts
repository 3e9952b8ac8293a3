import fc from 'fast-check';
import { IngestClock } from './ingest-clock';

describe('IngestClock', () => {
  it('begins at 0 with whatever comes first, and keeps video and audio together', () => {
    const clock = new IngestClock();
    expect(clock.place('video', 5000, 100)).toEqual({ atMs: 0, hasJumped: false });
    expect(clock.place('audio', 5010, 101).atMs).toBe(10);
    expect(clock.place('video', 5033, 130).atMs).toBe(33);
    // Audio that began a little before the video is not put behind it.
    expect(new IngestClock().place('audio', 7, 0).atMs).toBe(0);
  });

  const JUMPS: readonly (readonly [string, number])[] = [
    ['forward by an hour', 3_600_000],
    ['back to the beginning', -4000],
    ['back by a day', -86_400_000],
  ];
  for (const [how, byMs] of JUMPS) {
    it(`goes on from where it was when the encoder’s jumps ${how}`, () => {
      const clock = new IngestClock();
      const given = 100_000_000;
      let last = 0;
      for (let i = 0; i < 100; i++) last = clock.place('video', given + i * 40, i * 40).atMs;
      const after = clock.place('video', given + 4000 + byMs, 4000);
      expect(after).toEqual({ atMs: last + 40, hasJumped: true });
      expect(clock.place('audio', given + 4010 + byMs, 4010)).toEqual({ atMs: last + 50, hasJumped: false });
      expect(clock.place('video', given + 4040 + byMs, 4040).atMs).toBe(last + 80);
      expect(clock.jumped).toBe(1);
    });
  }

  it('takes a line that stood and catches up for none', () => {
    const clock = new IngestClock();
    clock.place('video', 0, 0);
    expect(clock.place('video', 5000, 5000)).toEqual({ atMs: 5000, hasJumped: false });
    // All at once, of what was made in the meantime.
    for (let i = 1; i <= 30; i++) expect(clock.place('video', 5000 + i * 33, 5001).hasJumped).toBeFalse();
  });

  it('lags nothing behind over an hour of an encoder whose clock is off by 200 ppm', () => {
    const clock = new IngestClock();
    let atMs = 0;
    for (let i = 0; i <= 90_000; i++) {
      const placed = clock.place('video', Math.round(i * 40 * 1.0002), i * 40);
      if (placed.hasJumped) fail('no jump');
      atMs = placed.atMs;
    }
    // It stays the encoder's own time: what follows it neither waits nor hurries.
    expect(atMs).toBe(Math.round(3_600_000 * 1.0002));
  });

  it('never goes back within a track but by an encoder’s rounding', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            stepMs: fc.integer({ min: -10_000_000, max: 10_000_000 }),
            passedMs: fc.integer({ min: 0, max: 200 }),
          }),
          { maxLength: 40 },
        ),
        (steps) => {
          const clock = new IngestClock();
          let [givenMs, nowMs, last] = [50_000_000, 0, 0];
          for (const { stepMs, passedMs } of steps) {
            givenMs = Math.max(0, givenMs + stepMs);
            nowMs += passedMs;
            const { atMs } = clock.place('video', givenMs, nowMs);
            expect(atMs).toBeGreaterThanOrEqual(last - 50);
            expect(atMs).toBeLessThanOrEqual(last + passedMs + 2000);
            last = Math.max(last, atMs);
          }
        },
      ),
    );
  });
});
