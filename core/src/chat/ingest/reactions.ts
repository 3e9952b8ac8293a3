/** What viewers press instead of writing; what a place has besides counts as `other`. */
export const REACTION_KINDS = ['heart', 'clap', 'laugh', 'surprise', 'other'] as const;
export type ReactionKind = (typeof REACTION_KINDS)[number];
export type ReactionCounts = Readonly<Partial<Record<ReactionKind, number>>>;

/** Counts by a place's own names, by ours. What is no count is left out. */
export function reactionsOf(counts: Readonly<Record<string, unknown>>): ReactionCounts {
  const ours: Partial<Record<ReactionKind, number>> = {};
  for (const [name, count] of Object.entries(counts)) {
    if (typeof count !== 'number' || !Number.isSafeInteger(count) || count < 0) continue;
    const kind = REACTION_KINDS.find((one) => one === name) ?? 'other';
    ours[kind] = (ours[kind] ?? 0) + count;
  }
  return ours;
}

/**
 * How many came since a place last told its totals. A total that is lower than it was has begun anew over there: all of it
 * is new.
 *
 * @param before null: it is told for the first time. Of a channel that goes on from show to show most of it is not of this
 * one, so that none of it counts.
 */
export function reactionsSince(before: ReactionCounts | null, totals: ReactionCounts): ReactionCounts {
  if (before === null) return {};
  const since: Partial<Record<ReactionKind, number>> = {};
  for (const kind of REACTION_KINDS) {
    const [was, is] = [before[kind] ?? 0, totals[kind] ?? 0];
    const more = is < was ? is : is - was;
    if (more > 0) since[kind] = more;
  }
  return since;
}

export const sumOf = (counts: ReactionCounts): number =>
  Object.values(counts).reduce((sum, count) => sum + count, 0);
