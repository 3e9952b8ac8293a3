/** Below this nothing is gained: frames wait for the composer's next frame anyway. */
const LEAST_WAIT_MS = 60;
/** Nobody wants to talk with somebody who is later than this. */
const MOST_WAIT_MS = 1000;
/** Beyond what was the latest so far. */
const MARGIN_MS = 20;
/** How long it counts how late something was, and in how many parts that is kept. */
const BUCKET_MS = 1000;
const BUCKETS = 10;
/** By so much of the time that passes it comes nearer: nobody hears that its sound is played this much faster. */
const NEARER = 0.004;
/** It is too late by so much that it comes nearer at once: nobody is to wait for minutes. */
const AT_ONCE_MS = 500;

type Track = 'video' | 'audio';

/** How late frames of a track were: the least and the most of it, for each of the last seconds. */
class Lateness {
  private buckets: { readonly number: number; least: number; most: number }[] = [];

  take(lateMs: number, nowMs: number): void {
    const number = Math.floor(nowMs / BUCKET_MS);
    const last = this.buckets.at(-1);
    const usualMs = this.leastMs;
    // What stood on the line for long is shown late in any case: that all is as late from now on would help nobody.
    const counted = usualMs !== null && lateMs > usualMs + MOST_WAIT_MS ? usualMs : lateMs;
    if (last?.number === number) {
      last.least = Math.min(last.least, lateMs);
      last.most = Math.max(last.most, counted);
    } else this.buckets.push({ number, least: lateMs, most: counted });
  }

  forget(nowMs: number): void {
    const oldest = Math.floor(nowMs / BUCKET_MS) - BUCKETS;
    while (this.buckets[0] && this.buckets[0].number < oldest) this.buckets.shift();
  }

  get leastMs(): number | null {
    return this.buckets.length > 0 ? Math.min(...this.buckets.map(({ least }) => least)) : null;
  }

  get mostMs(): number {
    return Math.max(...this.buckets.map(({ most }) => most));
  }
}

/**
 * When the frames of an outside picture are due, by a clock of ours. They come over a line, at times a little later than at
 * others: all wait for as long as the latest of the last seconds needed, video and audio alike, so that movement is even and
 * lips stay with words. An encoder's clock runs a hair faster or slower than ours: the wait follows it, and never adds up.
 */
export class Playout {
  private readonly tracks: Record<Track, Lateness> = { video: new Lateness(), audio: new Lateness() };
  /** From a frame's time to our clock, ms. Null: nothing has come. */
  private shiftMs: number | null = null;
  private atMs = 0;

  /**
   * A frame has come.
   *
   * @param frameMs by the encoder's clock, rising
   * @param nowMs by a clock that never goes back
   */
  take(track: Track, frameMs: number, nowMs: number): void {
    this.tracks[track].take(nowMs - frameMs, nowMs);
    let wanted = -Infinity;
    for (const lateness of Object.values(this.tracks)) {
      lateness.forget(nowMs);
      if (lateness.leastMs === null) continue;
      wanted = Math.max(wanted, lateness.leastMs + LEAST_WAIT_MS, lateness.mostMs + MARGIN_MS);
    }
    const shiftMs = this.shiftMs ?? wanted;
    const tooLateMs = shiftMs - wanted;
    const nearerMs = (nowMs - this.atMs) * NEARER;
    this.shiftMs = tooLateMs > AT_ONCE_MS ? wanted : Math.max(wanted, shiftMs - nearerMs);
    this.atMs = nowMs;
  }

  /** When a frame of this time is due, by the clock by which they came. Earlier than now: it is late, and due at once. */
  dueMs(frameMs: number): number {
    return frameMs + (this.shiftMs ?? 0);
  }
}
