import { FramePace, quantile } from './frame-pace';
import { limit, AUDIO_WAIT_MS, JitterBuffer } from './jitter-buffer';

const tone = (from: number, count: number) =>
  Float32Array.from({ length: count }, (_, i) => Math.sin((from + i) / 20) / 2);

/** Feeds a queue at `pace` times the programme's and pulls as the programme does; gives what was heard. */
function play(pace: number, seconds: number) {
  const queue = new JitterBuffer();
  const heard: number[] = [];
  let given = 0;
  for (let packet = 0; packet < seconds * 50; packet++) {
    const until = Math.round((packet + 3) * 960 * pace);
    if (until > given) queue.push(tone(given, until - given));
    given = until;
    const [left, right] = [new Float32Array(960), new Float32Array(960)];
    queue.mixInto(left, right, 1);
    heard.push(...left);
  }
  return { queue, heard };
}

describe('JitterBuffer', () => {
  for (const pace of [1, 1.0004, 0.9996]) {
    it(`plays a source at ${pace} of the programme's pace without a break or a click`, () => {
      const { queue, heard } = play(pace, 60);
      const later = heard.slice(48_000);
      // A sine of this pitch and loudness never steps further than this from one sample to the next.
      const steps = later.map((sample, i) => (i === 0 ? 0 : Math.abs(sample - later[i - 1]!)));
      expect(Math.max(...steps.slice(0, 100_000))).toBeLessThan(0.03);
      expect(queue.waiting).toBeLessThan(48_000 / 4);
      expect(queue.waiting).toBeGreaterThan(400);
    });
  }

  it('is silent until enough waits, and again when a source has stopped', () => {
    const queue = new JitterBuffer();
    const pull = () => {
      const left = new Float32Array(960);
      queue.mixInto(left, new Float32Array(960), 1);
      return left.some((sample) => sample !== 0);
    };
    queue.push(tone(1, 500));
    expect(pull()).toBeFalse();
    queue.push(tone(501, 3000));
    expect(pull()).toBeTrue();
    for (let i = 0; i < 6; i++) pull();
    expect(pull()).toBeFalse();
  });

  it('lets go of what would come too late', () => {
    const queue = new JitterBuffer();
    queue.push(tone(0, 48_000));
    expect(queue.waiting).toBeLessThan(4800);
  });

  /**
   * Packets of so many ms, each late by what `lateMs` says of it, taken out as the composer does: with each frame, in whole
   * packets. Each sample says its own time in ms; gives the time of what was heard at each ms, null where it was silent.
   */
  function heard(packetMs: number, seconds: number, lateMs: (packet: number) => number, laterMs = 0) {
    const queue = new JitterBuffer(laterMs);
    const out: (number | null)[] = [];
    let [packet, made, arrivedMs] = [0, 0, 0];
    for (let frame = 0; frame < seconds * 30; frame++) {
      const nowMs = (frame * 1000) / 30;
      for (;;) {
        // Late or not, they come in their order.
        const comesMs = Math.max(arrivedMs, packet * packetMs + lateMs(packet));
        if (comesMs > nowMs) break;
        arrivedMs = comesMs;
        const from = Math.round(packet * packetMs * 48);
        const count = Math.round((packet + 1) * packetMs * 48) - from;
        queue.push(Float32Array.from({ length: count }, (_, i) => (from + i + 1) / 48));
        packet += 1;
      }
      for (; made + 960 <= (frame + 1) * 1600; made += 960) {
        const left = new Float32Array(960);
        queue.mixInto(left, new Float32Array(960), 1);
        for (let i = 0; i < 960; i += 48) out.push(left[i] === 0 ? null : left[i]!);
      }
    }
    return out;
  }
  /** How late something is heard, ms, from its beginning on. */
  const lateness = (out: readonly (number | null)[]) => {
    const first = out.findIndex((time) => time !== null);
    return out.slice(first).map((time, i) => (time === null ? null : first + i - time));
  };

  for (const packetMs of [10, 1000 / 30]) {
    it(`bears packets of ${Math.round(packetMs)} ms that come up to 20 ms late, without a hole`, () => {
      let seed = 7;
      const random = () => (seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647;
      const late = lateness(heard(packetMs, 20, () => random() * 20));
      expect(late.includes(null)).toBeFalse();
      const settled = late.slice(5000) as number[];
      expect(Math.max(...settled) - Math.min(...settled)).toBeLessThan(12);
    });
  }

  it('comes back as late as it was after a source that was held up', () => {
    // Two tenths of a second of nothing after ten seconds, made up for at once.
    const late = lateness(
      heard(1000 / 30, 20, (packet) => (packet < 300 ? 10 : Math.max(10, 10_210 - packet * (1000 / 30)))),
    );
    const [before, after] = [late[9500]!, late[10_800]!];
    expect(late.slice(9900, 10_300)).toContain(null);
    // As near as where in the composer's rhythm it begins: packets are taken out one or two at a time.
    expect(Math.abs(after - before)).toBeLessThan(15);
    // And so it is from the first moment on.
    expect(Math.abs(late[0]! - before)).toBeLessThan(15);
  });

  it('lets a source wait longer whose pictures take longer', () => {
    const [near, far] = [0, 20].map((laterMs) => lateness(heard(10, 10, () => 0, laterMs))[9000]!);
    expect(far! - near!).toBeCloseTo(20, 0);
  });

  it('holds what it was told to hold', () => {
    const queue = new JitterBuffer();
    queue.push(tone(1, AUDIO_WAIT_MS * 48 + 3000));
    const left = new Float32Array(960);
    queue.mixInto(left, new Float32Array(960), 1);
    expect(queue.waiting).toBe(AUDIO_WAIT_MS * 48 - 960);
    // What came too late was let go.
    expect(left[0]).toBeCloseTo(tone(3001, 1)[0]!, 6);
  });

  it('adds to what is in the mix, as loud as is asked', () => {
    const queue = new JitterBuffer();
    queue.push(new Float32Array(4000).fill(0.5), new Float32Array(4000).fill(0.25));
    const [left, right] = [new Float32Array(960).fill(0.1), new Float32Array(960)];
    queue.mixInto(left, right, 0.5);
    expect(left[10]).toBeCloseTo(0.35, 5);
    expect(right[10]).toBeCloseTo(0.125, 5);
  });
});

describe('the limit of a mix', () => {
  it('leaves alone what fits, and bends what does not', () => {
    const samples = Float32Array.of(0, 0.5, -0.89, 1.5, -7);
    limit(samples);
    expect([...samples.slice(0, 3)]).toEqual([...Float32Array.of(0, 0.5, -0.89)]);
    expect(samples[3]).toBeGreaterThan(0.9);
    expect(Math.max(...samples.map(Math.abs))).toBeLessThanOrEqual(1);
  });
});

describe('FramePace', () => {
  it('gives each picture once, at its time', () => {
    const pace = new FramePace(1000, 30);
    expect(pace.take(999)).toBeNull();
    expect(pace.take(1000)).toEqual({ frame: 0, missed: [] });
    expect(pace.take(1001)).toBeNull();
    expect(pace.take(1034)).toEqual({ frame: 1, missed: [] });
  });

  it('keeps the time after a hiccup, and names what was missed', () => {
    const pace = new FramePace(0, 30);
    pace.take(0);
    expect(pace.take(170)).toEqual({ frame: 5, missed: [1, 2, 3, 4] });
    expect(pace.figures().dropped).toBe(4);
    expect(pace.dueMs).toBeCloseTo(200, 6);
  });

  it('counts at the rate of the programme', () => {
    const pace = new FramePace(0, 60);
    expect([pace.take(0), pace.take(16)]).toEqual([{ frame: 0, missed: [] }, null]);
    expect(pace.take(500)).toEqual({ frame: 30, missed: Array.from({ length: 29 }, (_, i) => i + 1) });
  });

  it('tells how regularly pictures were made', () => {
    const pace = new FramePace(0, 30);
    for (let i = 0; i < 100; i++) pace.count(i * 33 + (i === 50 ? 20 : 0));
    const { p50Ms, p99Ms, framesPerS, made } = pace.figures();
    expect([p50Ms, p99Ms, made]).toEqual([33, 53, 100]);
    expect(framesPerS).toBeCloseTo(1000 / 33, 1);
    expect(quantile([], 0.5)).toBe(0);
  });
});
