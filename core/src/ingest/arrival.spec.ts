import { Arrival } from './arrival';

describe('Arrival', () => {
  /** So many seconds of frames at even steps, with a keyframe now and then. */
  const play = (arrival: Arrival, seconds: number, rateHz = 30, keyframes = 60, fromMs = 0) => {
    for (let i = 0; i < seconds * rateHz; i++) {
      const atMs = fromMs + Math.round((i * 1000) / rateHz);
      const key = i % keyframes === 0;
      arrival.takeVideo({ atMs, nowMs: atMs, bytes: key ? 20_000 : 4000, key, laterMs: 0 });
    }
    return fromMs + seconds * 1000;
  };
  const begun = () => {
    const arrival = new Arrival();
    arrival.videoIs('h264', null);
    arrival.audioIs('aac', { rateHz: 48_000, channels: 2 });
    return arrival;
  };

  it('knows nothing before something came, and no rate before enough did', () => {
    const arrival = begun();
    expect(arrival.figures(0)).toEqual({ video: null, audio: null, gaps: 0, jumps: 0 });
    arrival.takeVideo({ atMs: 0, nowMs: 0, bytes: 1000, key: true, laterMs: 0 });
    expect(arrival.figures(10).video!.rateHz).toBeNull();
  });

  for (const rateHz of [12, 25, 30, 50, 60]) {
    it(`finds ${rateHz} frames a second, even ones`, () => {
      const arrival = begun();
      const nowMs = play(arrival, 6, rateHz, 2 * rateHz);
      const { video } = arrival.figures(nowMs);
      expect(video!.rateHz).toBeCloseTo(rateHz, 0);
      expect([video!.isVariable, video!.keyframeS, video!.isReordered]).toEqual([false, 2, false]);
    });
  }

  it('finds what the bytes come to', () => {
    const arrival = begun();
    const { video } = arrival.figures(play(arrival, 6));
    expect(video!.kbps).toBeGreaterThan(950);
    expect(video!.kbps).toBeLessThan(1150);
  });

  it('finds frames that come unevenly, and such as are shown in another order', () => {
    const arrival = begun();
    let atMs = 0;
    for (let i = 0; i < 100; i++) {
      atMs += i % 3 === 0 ? 70 : 20;
      arrival.takeVideo({ atMs, nowMs: atMs, bytes: 1000, key: i === 0, laterMs: i % 2 === 0 ? 66 : 0 });
    }
    const { video } = arrival.figures(atMs);
    expect([video!.isVariable, video!.isReordered]).toEqual([true, true]);
    // It is over when no such frame has come for a while.
    expect(arrival.figures(play(arrival, 6, 30, 60, atMs + 40)).video!.isReordered).toBeFalse();
  });

  it('finds how late the slowest frame comes, once what waited for the line is through', () => {
    const arrival = begun();
    for (let i = 0; i < 180; i++) {
      const atMs = i * 33;
      // A second of them at once, then even ones, and one in the end that was held up.
      const nowMs = i < 30 ? 1000 : atMs + (i === 170 ? 240 : 10);
      arrival.takeVideo({ atMs, nowMs, bytes: 1000, key: i % 60 === 0, laterMs: 0 });
      if (i === 160) expect(arrival.figures(nowMs).video!.lateMs).toBe(0);
    }
    expect(arrival.figures(180 * 33).video!.lateMs).toBe(230);
  });

  it('counts since the last keyframe where no other comes', () => {
    const arrival = begun();
    const nowMs = play(arrival, 20, 30, 10_000);
    expect(arrival.figures(nowMs).video!.keyframeS).toBeCloseTo(20, 0);
  });

  it('counts gaps of the last minute', () => {
    const arrival = begun();
    let nowMs = play(arrival, 2);
    for (let i = 0; i < 3; i++) nowMs = play(arrival, 2, 30, 60, nowMs + 800);
    expect(arrival.figures(nowMs).gaps).toBe(3);
    expect(arrival.figures(play(arrival, 70, 30, 60, nowMs)).gaps).toBe(0);
  });

  it('hears when a track is silent', () => {
    const arrival = begun();
    const hear = (fromMs: number, bytes: number) => {
      for (let i = 0; i < 200; i++)
        arrival.takeAudio({ atMs: fromMs + i * 21, nowMs: fromMs + i * 21, bytes });
      return arrival.figures(fromMs + 200 * 21).audio!;
    };
    expect(hear(0, 300)).toEqual({
      codec: 'aac',
      rateHz: 48_000,
      channels: 2,
      kbps: jasmine.any(Number),
      isSilent: false,
    });
    expect(hear(5000, 6).isSilent).toBeTrue();
    expect(hear(10_000, 300).isSilent).toBeFalse();
  });
});
