import type { PlaceFinding } from './readiness';

/**
 * What would be found after a change and is not found before it: blocks and warnings only, in the order of `after`. The
 * same finding with other figures or another deadline is not new.
 */
export function newlyFound(
  before: readonly PlaceFinding[],
  after: readonly PlaceFinding[],
): readonly PlaceFinding[] {
  const known = new Set(before.map(sameness));
  return after.filter((one) => one.level !== 'advice' && !known.has(sameness(one)));
}

const sameness = ({ level, code, destinationId, field }: PlaceFinding) =>
  [level, code, destinationId, field].join(' ');
