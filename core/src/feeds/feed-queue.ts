import type { ProgrammeTag } from '../programme/programme-tags';

export interface QueueLimits {
  /** The most that may wait, in bytes. */
  readonly bytes: number;
  /** The most that may wait, in ms of programme. */
  readonly ms: number;
}

/** Four seconds at 8 Mbit/s: long enough for a network that coughs, short enough not to be late afterwards. */
export const QUEUE_LIMITS: QueueLimits = { bytes: 4_000_000, ms: 4000 };

/**
 * What one feed still has to send. Bounded: when its place takes too little, whole groups of pictures are left out
 * with their audio, the oldest first, so that what arrives can always be decoded. Begins with a keyframe.
 */
export class FeedQueue {
  private tags: ProgrammeTag[] = [];
  private waitsForKey = true;
  private queuedBytes = 0;
  /** Tags that were left out since the beginning, by their kind. */
  readonly leftOut = { videoFrames: 0, audioFrames: 0 };

  constructor(private readonly limits: QueueLimits = QUEUE_LIMITS) {}

  get bytes(): number {
    return this.queuedBytes;
  }

  get length(): number {
    return this.tags.length;
  }

  /** ms of programme from the oldest to the newest that waits. */
  get spanMs(): number {
    return this.tags.length < 2 ? 0 : this.tags.at(-1)!.timeMs - this.tags[0]!.timeMs;
  }

  /** Whether something would be left out if this one came now: whoever can, sends first. */
  isFullWith({ body, timeMs }: ProgrammeTag): boolean {
    const [oldest] = this.tags;
    if (!oldest) return false;
    return this.queuedBytes + body.length > this.limits.bytes || timeMs - oldest.timeMs > this.limits.ms;
  }

  push(tag: ProgrammeTag): void {
    if (this.waitsForKey && !tag.key) {
      this.count(tag);
      return;
    }
    this.waitsForKey = false;
    this.tags.push(tag);
    this.queuedBytes += tag.body.length;
    if (this.queuedBytes > this.limits.bytes || this.spanMs > this.limits.ms) this.shorten();
  }

  /** Takes the oldest tags, whole ones, until `bytes` are reached. */
  take(bytes: number): ProgrammeTag[] {
    let count = 0;
    let taken = 0;
    while (count < this.tags.length && taken < bytes) taken += this.tags[count++]!.body.length;
    this.queuedBytes -= taken;
    return this.tags.splice(0, count);
  }

  clear(): void {
    this.tags = [];
    this.queuedBytes = 0;
    this.waitsForKey = true;
  }

  /** Goes on at the last keyframe that waits; where there is none, at the next one to come. */
  private shorten(): void {
    const key = this.tags.findLastIndex((tag) => tag.key);
    const keepFrom = key > 0 ? key : this.tags.length;
    for (const tag of this.tags.splice(0, keepFrom)) this.count(tag);
    this.queuedBytes = this.tags.reduce((sum, tag) => sum + tag.body.length, 0);
    this.waitsForKey = this.tags.length === 0;
  }

  private count(tag: ProgrammeTag): void {
    this.leftOut[tag.kind === 9 ? 'videoFrames' : 'audioFrames'] += 1;
  }
}
