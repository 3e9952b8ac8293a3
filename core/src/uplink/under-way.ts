/** What is said of the last moments is taken over so long. */
const SENT_WITHIN_MS = 3000;
const ARRIVED_WITHIN_MS = 2000;
/** Less than this says nothing of a rate. */
const LEAST_SPAN_MS = ARRIVED_WITHIN_MS / 4;
/** What was just begun is taken to have gone on so long. */
const LEAST_SENT_SPAN_MS = 1000;

/** The shortest way over the line is taken from so long a time: a desk may go from one network to another. */
const LENGTH_WITHIN_MS = 5 * 60_000;
/** A line of usual length takes so long, the time until an arrival is told included. */
export const USUAL_LENGTH_MS = 200;
/** Before anything has come, so long says nothing: the line may be long. */
const FIRST_ARRIVAL_MS = 2000;

interface Mark {
  readonly atMs: number;
  /** Bytes up to here, counted from the beginning. */
  readonly bytes: number;
}

/**
 * What was sent over a line and has not come yet, by what the other end tells of it: only that says how a line does. Whoever
 * sends hands everything to buffers on the way, which on a narrow line hold seconds of programme.
 *
 * All times are ms on one clock that never goes back.
 */
export class UnderWay {
  private readonly sent: Mark[] = [];
  private readonly arrived: Mark[] = [];
  private beganMs: number | null = null;
  private sentBytes = 0;
  private arrivedBytes = 0;
  private leastMs = Infinity;
  /** The shortest times on the way, each until a shorter one comes or it is too old. */
  private readonly lengths: { readonly atMs: number; readonly lengthMs: number }[] = [];

  /** Bytes that are on their way. */
  get bytes(): number {
    return this.sentBytes - this.arrivedBytes;
  }

  sends(bytes: number, nowMs: number): void {
    this.beganMs ??= nowMs;
    this.sentBytes += bytes;
    this.sent.push({ atMs: nowMs, bytes: this.sentBytes });
  }

  /** @param bytes all that has come over there since the beginning */
  arrives(bytes: number, nowMs: number): void {
    this.arrivedBytes = Math.min(this.sentBytes, Math.max(this.arrivedBytes, bytes));
    this.arrived.push({ atMs: nowMs, bytes: this.arrivedBytes });
    while (this.arrived[0]!.atMs < nowMs - ARRIVED_WITHIN_MS) this.arrived.shift();
    const newest = this.sent.findLast(({ bytes: upTo }) => upTo <= this.arrivedBytes);
    if (newest) this.noteLength(nowMs - newest.atMs, nowMs);
    this.leastMs = Math.min(this.leastMs, this.waitingMs(nowMs));
  }

  /** How long what is sent takes to be told of when nothing waits; null: nothing has come yet. */
  get lengthMs(): number | null {
    return this.lengths[0]?.lengthMs ?? null;
  }

  private noteLength(lengthMs: number, atMs: number): void {
    while (this.lengths.length > 0 && this.lengths.at(-1)!.lengthMs >= lengthMs) this.lengths.pop();
    this.lengths.push({ atMs, lengthMs });
    while (this.lengths[0]!.atMs < atMs - LENGTH_WITHIN_MS) this.lengths.shift();
  }

  /** How long ago the oldest of what has not come was sent; 0: all has come. */
  oldestMs(nowMs: number): number {
    const oldest = this.sent.find(({ bytes }) => bytes > this.arrivedBytes);
    return oldest ? nowMs - oldest.atMs : 0;
  }

  /** How long the oldest has waited: what it would have been on its way anyway on a long line does not count. */
  waitingMs(nowMs: number): number {
    const oldestMs = this.oldestMs(nowMs);
    const { lengthMs } = this;
    if (lengthMs === null) return oldestMs > FIRST_ARRIVAL_MS ? oldestMs : 0;
    return Math.max(0, oldestMs - Math.max(0, lengthMs - USUAL_LENGTH_MS));
  }

  /**
   * The least that {@link waitingMs} was since this was asked last. A large frame that takes its time is no narrow line:
   * what waits behind it comes to an end.
   */
  takeLeastWaitingMs(nowMs: number): number {
    const least = Math.min(this.leastMs, this.waitingMs(nowMs));
    this.leastMs = Infinity;
    return least;
  }

  /** What was sent lately, kbit/s. */
  sentKbps(nowMs: number): number {
    const fromMs = nowMs - SENT_WITHIN_MS;
    while (this.sent.length > 1 && this.sent[1]!.atMs <= fromMs && this.sent[0]!.bytes <= this.arrivedBytes)
      this.sent.shift();
    if (this.beganMs === null) return 0;
    const before = this.sent.findLast(({ atMs }) => atMs <= fromMs)?.bytes ?? 0;
    const spanMs = Math.min(SENT_WITHIN_MS, Math.max(LEAST_SENT_SPAN_MS, nowMs - this.beganMs));
    return ((this.sentBytes - before) * 8) / spanMs;
  }

  /** What came there lately, kbit/s; null: nobody has said yet. */
  get arrivedKbps(): number | null {
    const [first, last] = [this.arrived[0], this.arrived.at(-1)];
    if (!first || !last || last.atMs - first.atMs < LEAST_SPAN_MS) return null;
    return ((last.bytes - first.bytes) * 8) / (last.atMs - first.atMs);
  }
}
