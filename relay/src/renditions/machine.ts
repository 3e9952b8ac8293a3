import { EncodingMachine } from '@juncta/contract/relay';
import { SLOW_MACHINE } from '@juncta/core/renditions';
import { readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';

/** Stays free of encodings: for this process, the server and its database. */
const KEPT_CORES = 1;

/**
 * What may be encoded here. Costs are read from the file that `bench encode` wrote when the house was set up; where there is
 * none, or not a whole one, they are those of a slow machine.
 *
 * @param cores what the house allows; null: all but one
 */
export function readMachine(file: string | null, cores: number | null): EncodingMachine {
  const cost = file === null ? null : readCost(file);
  return {
    cores: cores ?? Math.max(0, availableParallelism() - KEPT_CORES),
    cost: cost ?? SLOW_MACHINE,
    isMeasured: cost !== null,
  };
}

function readCost(file: string): EncodingMachine['cost'] | null {
  try {
    const { data } = EncodingMachine.shape.cost.safeParse(JSON.parse(readFileSync(file, 'utf8')));
    return data ?? null;
  } catch {
    return null;
  }
}
