/** How the frames of the last stretch came. */
export interface PaceFigures {
  readonly framesPerS: number;
  /** ms between frames. */
  readonly p50Ms: number;
  readonly p99Ms: number;
  /** Frames that were left out since the beginning. */
  readonly dropped: number;
  /** Frames that were made since the beginning. */
  readonly made: number;
}

/** Seconds for which the intervals between frames are kept. */
const KEPT_S = 10;

/** Which frame is due, and how regularly they came. Pure but for what it remembers; times in ms come in. */
export class FramePace {
  private next = 0;
  private lastMs: number | null = null;
  private intervals: number[] = [];
  private made = 0;
  private dropped = 0;

  /** @param rateHz frames a second */
  constructor(
    private readonly startMs: number,
    private readonly rateHz: number,
  ) {}

  /** When the next frame is due. */
  get dueMs(): number {
    return this.timeOf(this.next);
  }

  /** When a frame is due. */
  timeOf(frame: number): number {
    return this.startMs + (frame * 1000) / this.rateHz;
  }

  /**
   * The number of the frame to be made now, and those before it whose time went by; null while none is due. The
   * programme keeps its time: what is late is not made up for, but its place can be held by the frame before.
   */
  take(nowMs: number): { readonly frame: number; readonly missed: readonly number[] } | null {
    if (nowMs < this.dueMs) return null;
    const latest = Math.floor(((nowMs - this.startMs) * this.rateHz) / 1000);
    const frame = Math.max(this.next, latest);
    const missed = Array.from({ length: frame - this.next }, (_, i) => this.next + i);
    this.dropped += missed.length;
    this.next = frame + 1;
    return { frame, missed };
  }

  /** A frame was made; without this call it counts as left out. */
  count(nowMs: number): void {
    if (this.lastMs !== null) this.intervals.push(nowMs - this.lastMs);
    if (this.intervals.length > KEPT_S * this.rateHz) this.intervals.shift();
    this.lastMs = nowMs;
    this.made += 1;
  }

  leaveOut(): void {
    this.dropped += 1;
  }

  figures(): PaceFigures {
    const sorted = [...this.intervals].sort((a, b) => a - b);
    const sum = sorted.reduce((total, one) => total + one, 0);
    return {
      framesPerS: sum > 0 ? (sorted.length * 1000) / sum : 0,
      p50Ms: quantile(sorted, 0.5),
      p99Ms: quantile(sorted, 0.99),
      dropped: this.dropped,
      made: this.made,
    };
  }
}

/** Of sorted values; 0 when there are none. */
export function quantile(sorted: readonly number[], q: number): number {
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * q))] ?? 0;
}
