import { buildAll } from '../build/main';
import type { Bench } from './bench';
import { benchOfPart } from './part';

export const relay: Bench = {
  about:
    'CPU per destination-second at 4 Mbit/s for 1, 6, 12 and 30 destinations, beside nginx doing the same; memory per feed',
  async run() {
    await buildAll(false, (text) => console.error(text));
    return benchOfPart('relay/src/bench/relay-bench.ts');
  },
};
