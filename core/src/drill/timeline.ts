import type { Seen } from './drilled-place';

/** What viewers of one place saw, second by second: the same for so many seconds, in order. */
export type Timeline = readonly { readonly seen: Seen; readonly seconds: number }[];

/** One second more. */
export function withSecond(timeline: Timeline, seen: Seen): Timeline {
  const last = timeline.at(-1);
  return last?.seen === seen
    ? [...timeline.slice(0, -1), { seen, seconds: last.seconds + 1 }]
    : [...timeline, { seen, seconds: 1 }];
}

export const secondsOf = (timeline: Timeline): number =>
  timeline.reduce((sum, { seconds }) => sum + seconds, 0);

/** How long viewers saw each, s; what they never saw is missing. */
export function sumUp(timeline: Timeline): Partial<Record<Seen, number>> {
  const sums: Partial<Record<Seen, number>> = {};
  for (const { seen, seconds } of timeline) sums[seen] = (sums[seen] ?? 0) + seconds;
  return sums;
}

/** What was seen in a second of the drill, from 0; null: it lasted less long. */
export function seenInSecond(timeline: Timeline, second: number): Seen | null {
  let from = 0;
  for (const { seen, seconds } of timeline) {
    if (second < from + seconds) return seen;
    from += seconds;
  }
  return null;
}
