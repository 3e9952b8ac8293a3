import type { Show } from '@juncta/contract/shows';
import type { PlaceFinding } from '@juncta/core/readiness';
import type { Finding } from '@juncta/core/shows';
import type { MarkedState } from '../../look/state-mark';

/** A show as a row of the board. */
export interface ShowRow {
  readonly show: Show;
  readonly state: MarkedState;
  readonly word: string;
  readonly series: string;
  readonly findings: readonly Finding[];
  /** What is grave at its destinations; null: that is not known yet. */
  readonly atPlaces: readonly PlaceFinding[] | null;
}
