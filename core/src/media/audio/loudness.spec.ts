import { LoudnessMeter } from './loudness';

/** So many seconds of a tone at this peak, from where the last left off. */
function tone(seconds: number, dBFS: number, hz = 1000): Float32Array {
  const peak = 10 ** (dBFS / 20);
  return Float32Array.from({ length: seconds * 48_000 }, (_, i) => {
    return peak * Math.sin((2 * Math.PI * hz * i) / 48_000);
  });
}
const of = (...parts: (readonly Float32Array[])[]) => {
  const meter = new LoudnessMeter();
  for (const part of parts) meter.take(part);
  return meter.lufs;
};

describe('LoudnessMeter', () => {
  // EBU Tech 3341, cases 1 and 2, and what follows from them.
  for (const [dBFS, lufs] of [
    [-23, -23],
    [-33, -33],
    [-6, -6],
  ] as const) {
    it(`says ${lufs} LUFS of a tone of 1 kHz at ${dBFS} dBFS on both sides`, () => {
      const both = tone(4, dBFS);
      expect(of([both, both])!).toBeCloseTo(lufs, 1);
      expect(of([both])!)
        .withContext('mono is heard from both')
        .toBeCloseTo(lufs, 1);
    });
  }

  it('hears a low tone less, and one that is on one side alone', () => {
    const [low, usual] = [tone(4, -23, 40), tone(4, -23)];
    expect(of([low, low])!).toBeLessThan(-27);
    expect(of([usual, new Float32Array(usual.length)])!).toBeCloseTo(-26, 1);
  });

  it('goes by the last three seconds', () => {
    const [loud, soft] = [tone(5, -10), tone(3.2, -40)];
    expect(of([loud, loud], [soft, soft])!).toBeCloseTo(-40, 0);
  });

  it('says nothing of silence, nor before there is anything', () => {
    const none = new Float32Array(48_000 * 4);
    expect(of([none, none])).toBeNull();
    expect(of([tone(0.05, -10)])).toBeNull();
    expect(of([])).toBeNull();
  });

  it('takes sound in pieces of any length', () => {
    const whole = tone(4, -20);
    const pieces = [];
    for (let at = 0; at < whole.length; at += 1021) pieces.push([whole.subarray(at, at + 1021)]);
    expect(of(...pieces)!).toBeCloseTo(of([whole])!, 6);
  });
});
