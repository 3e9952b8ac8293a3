import type { StreamEvent, StreamName } from '@juncta/contract/events';
import { BATCH_SIZE } from './store';

/** Events of a stream that are held for those who follow it: more than one of them is usually behind by. */
const TAIL_HELD = 400;

/** Somebody who follows one stream. */
export interface Follower {
  /** The last number that was sent. */
  sent: number;
  /** False: gone. */
  readonly isThere: boolean;
  send(batch: readonly StreamEvent[]): void;
}

/** The newest events of one stream, without a hole, up to and including number `at`. */
class Tail {
  private held: StreamEvent[] = [];

  constructor(public at: number) {}

  take(batch: readonly StreamEvent[]): void {
    const fresh = batch.filter(({ seq }) => seq > this.at);
    this.held = [...this.held, ...fresh].slice(-TAIL_HELD);
    this.at = fresh.at(-1)?.seq ?? this.at;
  }

  /** What comes after a number; null: some of it is not held any longer. */
  after(number: number): readonly StreamEvent[] | null {
    if (number >= this.at) return [];
    const first = this.held[0];
    return first && first.seq <= number + 1 ? this.held.slice(number + 1 - first.seq) : null;
  }
}

interface Followed {
  readonly tail: Tail;
  readonly followers: Map<Follower, { busy: boolean; again: boolean }>;
  reading: boolean;
  readAgain: boolean;
}

/**
 * Hands numbered streams to those who follow them. What is new is read once for each stream, however many follow it;
 * only who is far behind is read for alone. Each has a place of its own in the stream, so none waits for another.
 */
export class StreamHub {
  private readonly streams = new Map<StreamName, Followed>();

  /**
   * @param read events after a number, in order, at most {@link BATCH_SIZE}
   * @param onError a reading failed: {@link refresh} is to be called again once it can succeed
   */
  constructor(
    private readonly read: (stream: StreamName, after: number) => Promise<readonly StreamEvent[]>,
    private readonly onError: (error: unknown) => void,
  ) {}

  get followed(): readonly StreamName[] {
    return [...this.streams.keys()];
  }

  /**
   * Gives the follower what it has not had of what is known; asked again, from what it says then. What was written since
   * `lastSeq` was read comes with the next {@link refresh}.
   *
   * @param lastSeq the last number of the stream, read just now
   */
  follow(stream: StreamName, follower: Follower, lastSeq: number): void {
    let followed = this.streams.get(stream);
    if (!followed) {
      followed = { tail: new Tail(lastSeq), followers: new Map(), reading: false, readAgain: false };
      this.streams.set(stream, followed);
    }
    if (!followed.followers.has(follower)) followed.followers.set(follower, { busy: false, again: false });
    void this.deliver(stream, followed, follower);
  }

  unfollow(stream: StreamName, follower: Follower): void {
    const followed = this.streams.get(stream);
    followed?.followers.delete(follower);
    if (followed?.followers.size === 0) this.streams.delete(stream);
  }

  /** Something of the stream is new, or may be. */
  async refresh(stream: StreamName): Promise<void> {
    const followed = this.streams.get(stream);
    if (!followed) return;
    followed.readAgain = true;
    if (followed.reading) return;
    followed.reading = true;
    try {
      while (followed.readAgain) {
        followed.readAgain = false;
        await this.readOn(stream, followed.tail);
      }
    } catch (error) {
      this.onError(error);
      return;
    } finally {
      followed.reading = false;
    }
    for (const follower of followed.followers.keys()) void this.deliver(stream, followed, follower);
  }

  private async readOn(stream: StreamName, tail: Tail): Promise<void> {
    for (;;) {
      const batch = await this.read(stream, tail.at);
      tail.take(batch);
      if (batch.length < BATCH_SIZE) return;
    }
  }

  /** One at a time for each follower, so that batches leave in order. */
  private async deliver(
    stream: StreamName,
    { tail, followers }: Followed,
    follower: Follower,
  ): Promise<void> {
    const turn = followers.get(follower);
    if (!turn) return;
    turn.again = true;
    if (turn.busy) return;
    turn.busy = true;
    try {
      while (turn.again && follower.isThere) {
        turn.again = false;
        const from = follower.sent;
        const batch = tail.after(from) ?? (await this.read(stream, from));
        if (batch.length === 0 || !followers.has(follower)) continue;
        follower.send(batch);
        // An earlier number may have been asked for while we read: that wins.
        if (follower.sent === from) follower.sent = batch.at(-1)!.seq;
        turn.again = true;
      }
    } catch (error) {
      this.onError(error);
    } finally {
      turn.busy = false;
    }
  }
}
