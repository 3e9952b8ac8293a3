import type { Bench } from './bench';
import { benchOfPart } from './part';

export const recording: Bench = {
  about:
    'time and memory in which the file of a show is made, of 300 MB and of 3 GB that were kept; takes 10 GB of disk',
  run: () => benchOfPart('relay/src/bench/recording-bench.ts'),
};
