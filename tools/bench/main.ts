import { Failure } from '../machine/failure';
import type { Bench } from './bench';
import { chat } from './chat';
import { compose } from './compose';
import { continuity } from './continuity';
import { encode } from './encode';
import { floods } from './floods';
import { ingest } from './ingest';
import { latency } from './latency';
import { load } from './load';
import { memory } from './memory';
import { planner } from './planner';
import { recording } from './recording';
import { relay } from './relay';

/**
 * `npm run bench -- NAME` prints the bench's figures; `--list` names what there is. Whatever else a bench has to
 * say goes to standard error.
 */
const BENCHES: Record<string, Bench> = {
  chat,
  compose,
  continuity,
  encode,
  floods,
  ingest,
  latency,
  load,
  memory,
  planner,
  recording,
  relay,
};

async function main(name: string | undefined): Promise<void> {
  if (name === '--list') {
    for (const [one, { about }] of Object.entries(BENCHES)) console.log(`${one}: ${about}`);
    return;
  }
  const bench = name === undefined ? undefined : BENCHES[name];
  if (!bench) throw new Failure(`There is no bench "${name ?? ''}". npm run bench -- --list names them.`);
  console.log(JSON.stringify({ bench: name, ...(await bench.run()) }));
}

main(process.argv[2]).catch((error: unknown) => {
  console.error(error instanceof Failure ? error.message : error);
  process.exit(1);
});
