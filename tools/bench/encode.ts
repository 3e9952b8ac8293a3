import type { Bench } from './bench';
import { benchOfPart } from './part';

export const encode: Bench = {
  about: 'what encoding takes on this machine: ms of one core for a million pixels, and cores by rendition',
  run: () => benchOfPart('relay/src/bench/encode-bench.ts'),
};
