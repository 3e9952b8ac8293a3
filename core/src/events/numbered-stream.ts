/**
 * The reader's side of a numbered stream of events. Every event of a stream has a number, from 1, without
 * gaps; whoever missed some asks from the last number that was taken in. Delivery is *at least once* over the
 * wire and, through this machine, *exactly once and in order* to whoever reads.
 */
export interface Numbered {
  readonly seq: number;
}

export interface StreamReader<E extends Numbered> {
  /** The highest number that has been delivered; 0 before the first. */
  readonly delivered: number;
  /** Events that came too early, waiting for those before them; ascending, bounded by {@link EARLY_LIMIT}. */
  readonly early: readonly E[];
}

export interface Received<E extends Numbered> {
  readonly reader: StreamReader<E>;
  /** To be handed on, in order. */
  readonly deliver: readonly E[];
  /** Ask the sender again for everything after this number; null when nothing is missing. */
  readonly askAfter: number | null;
}

/** More than these are not kept while a gap is open: they come again with the answer to the question. */
export const EARLY_LIMIT = 1000;

/** A reader that has everything up to and including `delivered`. */
export function startReader<E extends Numbered>(delivered = 0): StreamReader<E> {
  return { delivered, early: [] };
}

/** Takes in a batch, in whatever order, with whatever doubles. */
export function receive<E extends Numbered>(reader: StreamReader<E>, batch: readonly E[]): Received<E> {
  const bySeq = new Map<number, E>();
  for (const event of [...reader.early, ...batch]) {
    if (event.seq > reader.delivered) bySeq.set(event.seq, event);
  }
  const deliver: E[] = [];
  let next = reader.delivered + 1;
  for (let event = bySeq.get(next); event; event = bySeq.get(++next)) {
    deliver.push(event);
    bySeq.delete(next);
  }
  const early = [...bySeq.values()].sort((a, b) => a.seq - b.seq).slice(0, EARLY_LIMIT);
  const delivered = next - 1;
  return { reader: { delivered, early }, deliver, askAfter: early.length > 0 ? delivered : null };
}
