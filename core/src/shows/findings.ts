import { phaseAt, type ShowTimes } from './phase';

/** A show as its findings are computed from it. */
export interface PlannedShow extends ShowTimes {
  readonly id: string;
  readonly description: string;
  /** Minutes from start to end as planned. */
  readonly plannedMinutes: number;
  readonly archivedAtMs: number | null;
  readonly people: readonly PlannedPerson[];
}

export interface PlannedPerson {
  /** Null for guests, who are told apart by their name. */
  readonly memberId: string | null;
  readonly name: string;
  readonly part: string;
}

/** `block`: the show cannot go out like this. `warning`: it can, and somebody should look. `advice`: it could be better. */
export type FindingLevel = 'block' | 'warning' | 'advice';

export type Finding = { readonly level: FindingLevel } & (
  | { readonly code: 'overdue' | 'no_start' | 'no_host' | 'no_description' }
  /** Somebody stands in another show at the same time. */
  | { readonly code: 'in_two_shows'; readonly name: string; readonly otherShowId: string }
);

const ORDER: readonly FindingLevel[] = ['block', 'warning', 'advice'];

/**
 * What is not ready about a show, the gravest first. Nothing is found about shows that are over or put away. What
 * depends on destinations is found from their house rules, elsewhere.
 *
 * @param others the team's other shows; the show itself and those put away are passed over
 */
export function showFindings(show: PlannedShow, others: readonly PlannedShow[], nowMs: number): Finding[] {
  if (show.endedAtMs !== null || show.archivedAtMs !== null) return [];
  const findings: Finding[] = [];
  if (phaseAt(show, nowMs).overdue) findings.push({ level: 'block', code: 'overdue' });
  if (!show.people.some(({ part }) => part === 'host')) findings.push({ level: 'block', code: 'no_host' });
  if (show.startsAtMs === null) findings.push({ level: 'warning', code: 'no_start' });
  findings.push(...inTwoShows(show, others));
  if (show.description.trim() === '') findings.push({ level: 'advice', code: 'no_description' });
  return findings.sort((a, b) => ORDER.indexOf(a.level) - ORDER.indexOf(b.level));
}

function inTwoShows(show: PlannedShow, others: readonly PlannedShow[]): Finding[] {
  return others
    .filter((other) => other.id !== show.id && other.archivedAtMs === null && other.endedAtMs === null)
    .filter((other) => overlap(show, other))
    .flatMap((other) =>
      show.people
        .filter((person) => other.people.some((there) => isSame(person, there)))
        .map(({ name }) => ({
          level: 'warning' as const,
          code: 'in_two_shows' as const,
          name,
          otherShowId: other.id,
        })),
    );
}

function isSame(a: PlannedPerson, b: PlannedPerson): boolean {
  if (a.memberId !== null || b.memberId !== null) return a.memberId === b.memberId;
  return a.name.trim().toLowerCase() === b.name.trim().toLowerCase();
}

type PlannedTime = Pick<PlannedShow, 'startsAtMs' | 'plannedMinutes'>;

/** Whether the planned times of two shows share a minute. One that ends as the other starts does not overlap it. */
export function overlap(a: PlannedTime, b: PlannedTime): boolean {
  if (a.startsAtMs === null || b.startsAtMs === null) return false;
  const end = (show: PlannedTime) => show.startsAtMs! + show.plannedMinutes * 60_000;
  return a.startsAtMs < end(b) && b.startsAtMs < end(a);
}
