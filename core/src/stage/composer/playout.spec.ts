import fc from 'fast-check';
import { Playout } from './playout';

interface Came {
  readonly track: 'video' | 'audio';
  /** When it was made, by our clock; the encoder's own may differ. */
  readonly madeMs: number;
  readonly frameMs: number;
  readonly cameMs: number;
}
interface Line {
  readonly forS: number;
  /** The encoder's clock gains so much on ours, parts in a million. */
  readonly gain?: number;
  readonly lateMs?: (madeMs: number, track: Came['track']) => number;
  readonly audioUntilS?: number;
}

/** 30 frames and 47 packets of audio a second, as they come over a line on which nothing overtakes. */
function encoder({ forS, gain = 0, lateMs = () => 0, audioUntilS = forS }: Line): Came[] {
  const made = [
    ...Array.from({ length: forS * 30 }, (_, i) => ({ track: 'video' as const, madeMs: (i * 1000) / 30 })),
    ...Array.from({ length: audioUntilS * 47 }, (_, i) => ({
      track: 'audio' as const,
      madeMs: (i * 1000) / 47,
    })),
  ].sort((a, b) => a.madeMs - b.madeMs);
  const last = { video: 0, audio: 0 };
  return made
    .map(({ track, madeMs }) => {
      const cameMs = (last[track] = Math.max(last[track], 5000 + madeMs + 40 + lateMs(madeMs, track)));
      return { track, madeMs, cameMs, frameMs: madeMs * (1 + gain / 1e6) };
    })
    .sort((a, b) => a.cameMs - b.cameMs);
}

/** How long each was on its way until it was due, and how much too late it came for that. */
function play(came: readonly Came[]) {
  const playout = new Playout();
  return came.map(({ track, madeMs, frameMs, cameMs }) => {
    playout.take(track, frameMs, cameMs);
    const dueMs = playout.dueMs(frameMs);
    return { track, madeMs, delayMs: dueMs - 5000 - madeMs, missedMs: cameMs - dueMs };
  });
}
const seeded = (seed: number) => (madeMs: number) => Math.abs(Math.sin(madeMs * 12.9898 + seed)) % 1;

describe('the playout of an outside picture', () => {
  it('waits a little on a line that is even', () => {
    const played = play(encoder({ forS: 5 }));
    for (const { delayMs, missedMs } of played) {
      expect(missedMs).toBeLessThan(0);
      expect(delayMs).toBeCloseTo(100, 0);
    }
  });

  it('waits as long as the latest of the last seconds, and no longer', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 400 }), fc.integer(), (jitterMs, seed) => {
        const random = seeded(seed);
        const played = play(encoder({ forS: 40, lateMs: (ms) => random(ms) * jitterMs }));
        const settled = played.filter(({ madeMs }) => madeMs > 12_000);
        expect(settled.filter(({ missedMs }) => missedMs > 0).length).toBeLessThan(settled.length / 100);
        expect(Math.max(...settled.map(({ delayMs }) => delayMs))).toBeLessThan(40 + jitterMs + 70);
      }),
      { numRuns: 20 },
    );
  });

  it('keeps its delay through an hour in which the encoder’s clock gains or loses', () => {
    for (const gain of [-300, 300]) {
      const played = play(encoder({ forS: 3600, gain }));
      const late = played.filter(({ missedMs }) => missedMs > 0);
      expect(late.length).withContext(`${gain} ppm`).toBe(0);
      const last = played.slice(-1000).map(({ delayMs }) => delayMs);
      expect(Math.max(...last))
        .withContext(`${gain} ppm`)
        .toBeLessThan(115);
      expect(Math.min(...last))
        .withContext(`${gain} ppm`)
        .toBeGreaterThan(85);
    }
  });

  it('is as near as before after the line stood', () => {
    const stood = (madeMs: number) => (madeMs > 20_000 && madeMs < 24_000 ? 24_000 - madeMs : 0);
    const played = play(encoder({ forS: 120, lateMs: stood }));
    const after = played.filter(({ madeMs }) => madeMs > 24_500 && madeMs < 25_000);
    expect(Math.max(...after.map(({ missedMs }) => missedMs))).toBeLessThan(0);
    expect(Math.max(...played.map(({ delayMs }) => delayMs))).toBeLessThanOrEqual(1060);
    // It comes nearer slowly, so that nobody hears it.
    expect(played.at(-1)!.delayMs).toBeLessThan(800);
  });

  it('keeps lips with words where one of the two comes later, and waits for none that has ended', () => {
    const lateMs = (_: number, track: string) => (track === 'audio' ? 200 : 0);
    const played = play(encoder({ forS: 60, audioUntilS: 5, lateMs }));
    const both = played.filter(({ madeMs }) => madeMs > 1000 && madeMs < 4000);
    const delays = both.map(({ delayMs }) => delayMs);
    expect(Math.max(...delays) - Math.min(...delays)).toBeLessThan(1);
    expect(delays[0]).toBeCloseTo(300, 0);
    expect(played.at(-1)!.delayMs).toBeLessThan(200);
  });

  it('is near at once where it is far too late', () => {
    const played = play(encoder({ forS: 40, lateMs: (ms) => (ms < 1000 ? 2000 : 0) }));
    expect(played.at(-1)!.delayMs).toBeLessThan(130);
  });
});
