import type { StreamEvent, StreamName } from '@juncta/contract/events';
import { BATCH_SIZE } from './store';
import { StreamHub, type Follower } from './stream-hub';

const event = (seq: number) => ({ stream: 'shows', seq }) as StreamEvent;

/** A stream as the database keeps it, and how often it was read. */
class Kept {
  last = 0;
  reads: number[] = [];
  isAway = false;
  private waiting: (() => void)[] = [];
  /** Readings wait until they are let through; null: they do not. */
  hold = false;

  readonly read = async (_stream: StreamName, after: number): Promise<StreamEvent[]> => {
    this.reads.push(after);
    if (this.hold) await new Promise<void>((go) => this.waiting.push(go));
    if (this.isAway) throw new Error('away');
    const count = Math.min(this.last - after, BATCH_SIZE);
    return Array.from({ length: Math.max(0, count) }, (_, i) => event(after + 1 + i));
  };

  letThrough(): void {
    this.hold = false;
    for (const go of this.waiting.splice(0)) go();
  }
}

class Reader implements Follower {
  readonly got: number[] = [];
  isThere = true;
  constructor(public sent: number) {}
  send(batch: readonly StreamEvent[]): void {
    this.got.push(...batch.map(({ seq }) => seq));
  }
}

const settle = () => new Promise((done) => setImmediate(done));
const count = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, i) => from + i);

describe('stream hub', () => {
  let kept: Kept;
  let hub: StreamHub;
  let errors: unknown[];
  const follow = (from: number) => {
    const reader = new Reader(from);
    hub.follow('shows', reader, kept.last);
    return reader;
  };

  beforeEach(() => {
    kept = new Kept();
    errors = [];
    hub = new StreamHub(kept.read, (error) => errors.push(error));
  });

  it('reads what is new once, however many follow', async () => {
    const readers = Array.from({ length: 20 }, () => follow(0));
    await settle();
    kept.reads = [];
    kept.last = 3;
    await hub.refresh('shows');
    await settle();
    for (const { got } of readers) expect(got).toEqual([1, 2, 3]);
    expect(kept.reads).toEqual([0]);
  });

  it('gives each what it has not had, in order: from what is held, or read for it alone', async () => {
    kept.last = 3 * BATCH_SIZE + 7;
    const far = follow(0);
    const near = follow(kept.last - 2);
    await settle();
    expect(far.got).toEqual(count(1, kept.last));
    expect(near.got).toEqual(count(kept.last - 1, kept.last));
    kept.last += 5;
    kept.reads = [];
    await hub.refresh('shows');
    await settle();
    expect([far.got.at(-1), near.got.at(-1)]).toEqual([kept.last, kept.last]);
    expect(far.got).withContext('without a hole or a double').toEqual(count(1, kept.last));
    expect(kept.reads.length).toBe(1);
  });

  it('misses nothing that is written while it reads', async () => {
    const reader = follow(0);
    await settle();
    kept.hold = true;
    kept.last = 1;
    void hub.refresh('shows');
    await settle();
    void hub.refresh('shows');
    kept.last = 2;
    kept.letThrough();
    await settle();
    kept.last = 3;
    await hub.refresh('shows');
    await settle();
    expect(reader.got).toEqual([1, 2, 3]);
  });

  it('goes on after a reading that failed', async () => {
    const reader = follow(0);
    await settle();
    kept.isAway = true;
    kept.last = 2;
    await hub.refresh('shows');
    expect([errors.length, reader.got.length]).toEqual([1, 0]);
    kept.isAway = false;
    await hub.refresh('shows');
    await settle();
    expect(reader.got).toEqual([1, 2]);
  });

  it('sends nothing to whoever has gone, and forgets a stream that nobody follows', async () => {
    const [gone, stays] = [follow(0), follow(0)];
    await settle();
    hub.unfollow('shows', gone);
    kept.last = 1;
    await hub.refresh('shows');
    await settle();
    expect([gone.got, stays.got]).toEqual([[], [1]]);
    hub.unfollow('shows', stays);
    expect(hub.followed).toEqual([]);
    kept.reads = [];
    await hub.refresh('shows');
    expect(kept.reads).toEqual([]);
  });
});
