/** A place that takes nothing for this long, while something waits, is taken to be gone. */
const STALL_PATIENCE_MS = 8000;

/** Notices a place that has stopped taking what is sent to it. */
export class Progress {
  private taken = 0;
  private atMs = Date.now();

  /** The place has just said yes: its patience begins now. */
  begin(nowMs: number): void {
    this.atMs = nowMs;
  }

  /**
   * Whether it has stood still for too long. To be asked now and then.
   *
   * @param sentBytes all that was taken from here so far
   * @param waitingBytes what waits to be taken
   */
  stalls(nowMs: number, sentBytes: number, waitingBytes: number): boolean {
    if (sentBytes > this.taken || waitingBytes === 0) {
      this.taken = sentBytes;
      this.atMs = nowMs;
    }
    return nowMs - this.atMs > STALL_PATIENCE_MS;
  }
}
