/**
 * How long nothing was heard on a line, as far as anybody listened. A process that got no time itself (a busy machine, a
 * computer that slept) finds its timers due before it reads what has come meanwhile, and would take a good line for
 * dead. So a stretch in which nobody looked counts for `mostMs` and no more.
 */
export class LineSilence {
  private silentMs = 0;

  /**
   * @param atMs of the beginning; all instants are of one clock that only goes forward
   * @param mostMs somewhat more than lies between two looks
   */
  constructor(
    private atMs: number,
    private readonly mostMs: number,
  ) {}

  heard(nowMs: number): void {
    this.silentMs = 0;
    this.atMs = nowMs;
  }

  /** To be called regularly. Returns for how long nothing was heard, ms. */
  look(nowMs: number): number {
    this.silentMs += Math.min(nowMs - this.atMs, this.mostMs);
    this.atMs = nowMs;
    return this.silentMs;
  }
}
