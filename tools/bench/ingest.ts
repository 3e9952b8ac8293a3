import { buildAll } from '../build/main';
import type { Bench } from './bench';
import { benchOfPart } from './part';

export const ingest: Bench = {
  about:
    'an outside picture from its encoder to a place, p50 and p95, and its CPU, copied and converted; twelve inputs in preview at once',
  async run() {
    await buildAll(false, (text) => console.error(text));
    return benchOfPart('relay/src/bench/ingest-bench.ts');
  },
};
