import { mkdirSync, rmSync } from 'node:fs';
import { openCluster } from '../machine/cluster';
import { Failure } from '../machine/failure';
import { freePort } from '../machine/ports';
import { endProcesses, markOf } from '../machine/processes';

/** A throwaway cluster for the specs; `stop` leaves nothing of it. */
export async function startTestCluster(dir: string): Promise<{ url: string; stop(): Promise<void> }> {
  rmSync(dir, { recursive: true, force: true });
  mkdirSync(dir, { recursive: true });
  const cluster = openCluster(dir, { throwaway: true });
  const port = await freePort();
  const child = cluster.spawn(port, 'ignore');
  const mark = markOf(child.pid!, 'database');
  const stop = async () => {
    if (mark) await endProcesses([mark], 5000, () => 'SIGINT');
    rmSync(dir, { recursive: true, force: true });
  };
  if (!(await cluster.ready(port, 20_000))) {
    await stop();
    throw new Failure('The database of the tests did not start.');
  }
  return { url: cluster.adminUrl(port, 'postgres'), stop };
}
