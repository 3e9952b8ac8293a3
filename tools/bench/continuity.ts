import { buildAll } from '../build/main';
import type { Bench } from './bench';
import { benchOfPart } from './part';

export const continuity: Bench = {
  about:
    'what receivers see while one of twelve feeds stalls and one is refused, a connection is cut, the desk is gone for 20 s, and the relay is killed',
  async run() {
    await buildAll(false, (text) => console.error(text));
    return benchOfPart('relay/src/bench/continuity-bench.ts');
  },
};
