import type { PlannedShow } from '@juncta/core/shows';
import type { Show } from '@juncta/contract/shows';

/** A show in the form that core computes phases and findings from. */
export function plannedOf(show: Show): PlannedShow {
  const { description, plannedMinutes, people } = show.text;
  const { id, startsAtMs, startedAtMs, endedAtMs, archivedAtMs } = show;
  return { id, description, plannedMinutes, people, startsAtMs, startedAtMs, endedAtMs, archivedAtMs };
}
