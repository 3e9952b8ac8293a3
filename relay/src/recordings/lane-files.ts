import type { Lane } from '@juncta/core/uplink';

/**
 * The files of a session's folder: `live-2.jpc` holds the packets that came on the live lane in the second life of the
 * relay. Files without a number are of the first life.
 */
const NAME = /^(live|backlog)(?:-(\d+))?\.jpc$/;

export const laneFile = (lane: Lane, life: number): string =>
  life === 1 ? `${lane}.jpc` : `${lane}-${life}.jpc`;

/** Null: no file of a lane. */
export function laneOf(name: string): { readonly lane: Lane; readonly life: number } | null {
  const found = NAME.exec(name);
  return found && { lane: found[1] as Lane, life: Number(found[2] ?? 1) };
}
