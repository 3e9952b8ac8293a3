import { spawn } from 'node:child_process';
import path from 'node:path';
import { buildAll, ROOT } from '../build/main';
import { Failure } from '../machine/failure';
import type { Bench, Figures } from './main';

/** The relay's own bench, which knows its pieces, as a process: it prints its figures as one line of JSON. */
export const relay: Bench = {
  about:
    'CPU per destination-second at 4 Mbit/s for 1, 6, 12 and 30 destinations, beside nginx doing the same; memory per feed',
  async run() {
    await buildAll(false, (text) => console.error(text));
    const child = spawn(
      process.execPath,
      ['--import', 'tsx', path.join(ROOT, 'relay/src/bench/relay-bench.ts')],
      {
        cwd: ROOT,
        stdio: ['ignore', 'pipe', 'inherit'],
      },
    );
    let out = '';
    child.stdout.on('data', (text) => (out += String(text)));
    const status = await new Promise((done) => child.on('close', done));
    if (status !== 0) throw new Failure('The relay\u2019s bench did not come to its end.');
    return JSON.parse(out.trim().split('\n').at(-1)!) as Figures;
  },
};
