import { buildAll } from '../build/main';
import type { Bench } from './bench';
import { benchOfPart } from './part';

export const memory: Bench = {
  about: 'the relay’s memory and open files over two hours in which desk and place break off again and again',
  async run() {
    await buildAll(false, (text) => console.error(text));
    return benchOfPart('relay/src/bench/memory-bench.ts');
  },
};
