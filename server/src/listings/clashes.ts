import type { Clash } from '@juncta/contract/listings';
import type { Show } from '@juncta/contract/shows';
import { overlap } from '@juncta/core/shows';

/** A show with the ids of the destinations that it goes to. */
export interface Routed {
  readonly show: Show;
  readonly to: ReadonlySet<string>;
}

const planned = ({ startsAtMs, text }: Show) => ({ startsAtMs, plannedMinutes: text.plannedMinutes });

/** Other shows that go to the destinations of this one at the same time: there one key would serve two. */
export function clashesOf({ show, to }: Routed, all: readonly Routed[]): Clash[] {
  const beside = all.filter(
    (other) =>
      other.show.id !== show.id &&
      other.show.endedAtMs === null &&
      other.show.archivedAtMs === null &&
      overlap(planned(show), planned(other.show)),
  );
  return [...to].flatMap((destinationId) => {
    const titles = beside.flatMap((other) => (other.to.has(destinationId) ? [other.show.text.title] : []));
    return titles.length > 0 ? [{ destinationId, titles }] : [];
  });
}
