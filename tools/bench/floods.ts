import type { Bench } from './bench';
import { benchOfPart } from './part';

export const floods: Bench = {
  about: 'precision and recall of floods in labelled hours, and what one message costs',
  run: () => benchOfPart('core/src/bench/floods-bench.ts'),
};
