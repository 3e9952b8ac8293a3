/**
 * Holds what is about to go out for a while, so that something can still be taken out of it. In order, and nothing
 * twice. No clock of its own: `nowMs` is one that never goes back.
 */
export class DelayLine<T> {
  private readonly waiting: { readonly item: T; readonly dueMs: number }[] = [];

  /** @param delayMs 0 or more: it can be changed only by a new line, since what waits has its time */
  constructor(readonly delayMs: number) {
    if (!Number.isFinite(delayMs) || delayMs < 0) throw new RangeError('delayMs must be 0 or more');
  }

  get length(): number {
    return this.waiting.length;
  }

  push(item: T, nowMs: number): void {
    this.waiting.push({ item, dueMs: nowMs + this.delayMs });
  }

  /** What has waited long enough, oldest first. */
  due(nowMs: number): T[] {
    let count = 0;
    while (count < this.waiting.length && this.waiting[count]!.dueMs <= nowMs) count += 1;
    return this.waiting.splice(0, count).map(({ item }) => item);
  }

  /** Takes everything out that has not gone out yet, oldest first: it never will. */
  drop(): T[] {
    return this.waiting.splice(0).map(({ item }) => item);
  }
}

/** The longest that a show may be held back, s. */
export const MOST_DELAY_S = 60;
