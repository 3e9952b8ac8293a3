import path from 'node:path';
import { ROOT } from '../build/main';
import { startTestCluster } from '../test/cluster';
import type { Bench } from './bench';
import { benchOfPart } from './part';

export const planner: Bench = {
  about:
    'readiness, launch sheet and windows for 1, 20 and 200 destinations; booking eight at places that answer in 300 ms',
  async run() {
    const cluster = await startTestCluster(path.join(ROOT, '.test', 'bench-planner'));
    try {
      return await benchOfPart('server/src/bench/planner-bench.ts', {
        JUNCTA_TEST_DATABASE_URL: cluster.url,
      });
    } finally {
      await cluster.stop();
    }
  },
};
