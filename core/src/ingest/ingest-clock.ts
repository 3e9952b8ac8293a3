/**
 * The times of an outside encoder on a clock that only goes forward. Encoders' clocks jump when a machine wakes or a scene
 * is restarted, and some stand still: what comes then is placed by when it came, and goes on from there.
 *
 * One for each stream, for video and audio together: a jump moves both by the same.
 */
export class IngestClock {
  private shiftMs = 0;
  /** Of each track, what came last. */
  private readonly last = new Map<string, { givenMs: number; nowMs: number }>();
  private latestAtMs = 0;
  private latestNowMs: number | null = null;
  private jumps = 0;

  /** How often the encoder's clock jumped. */
  get jumped(): number {
    return this.jumps;
  }

  /**
   * @param givenMs the encoder's time, unwrapped; rising within a track unless its clock jumps
   * @param nowMs when it came, by a clock that never goes back
   * @returns ms on a clock that begins at 0 with the first of all, and the jump that was noticed, if any
   */
  place(
    track: 'video' | 'audio',
    givenMs: number,
    nowMs: number,
  ): { readonly atMs: number; readonly hasJumped: boolean } {
    if (this.latestNowMs === null) this.shiftMs = -givenMs;
    const last = this.last.get(track);
    const hasJumped = last !== undefined && this.isJump(givenMs - last.givenMs, nowMs - last.nowMs);
    if (hasJumped) {
      this.jumps += 1;
      // As much later than the latest of all as it came later.
      this.shiftMs = this.latestAtMs + Math.max(1, Math.round(nowMs - this.latestNowMs!)) - givenMs;
      this.last.clear();
    }
    const atMs = Math.max(0, givenMs + this.shiftMs);
    this.last.set(track, { givenMs, nowMs });
    if (atMs >= this.latestAtMs) {
      this.latestAtMs = atMs;
      this.latestNowMs = nowMs;
    }
    this.latestNowMs ??= nowMs;
    return { atMs, hasJumped };
  }

  /** A line that stood and catches up is none: what it brings was made while it stood. */
  private isJump(givenMs: number, passedMs: number): boolean {
    return givenMs < -BACK_MS || givenMs > passedMs + AHEAD_MS;
  }
}

/** So far back a time may step without being a jump: encoders round. */
const BACK_MS = 50;
/** So much more time than went by may lie between two frames: an encoder that was stopped for a moment sends on. */
const AHEAD_MS = 2000;
