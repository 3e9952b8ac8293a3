/** What the order of messages goes by. */
export interface Written {
  readonly id: string;
  /** By the place's own clock, ms. */
  readonly writtenAtMs: number;
}

/**
 * Puts messages into a list that is in the order of writing, whenever they arrive; what is there already is replaced.
 * The same list is given back when nothing changed.
 */
export function mergeWritten<T extends Written>(list: readonly T[], arrived: readonly T[]): readonly T[] {
  if (arrived.length === 0) return list;
  const byId = new Map(list.map((message) => [message.id, message]));
  for (const message of arrived) byId.set(message.id, message);
  return [...byId.values()].sort(
    (a, b) => a.writtenAtMs - b.writtenAtMs || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0),
  );
}
