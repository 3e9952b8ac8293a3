import { statfs } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Health } from '@juncta/contract/health';

/** Below this nothing can be recorded for long enough to be of use: ten minutes of a programme, twice. */
export const LEAST_FREE_BYTES = 1024 ** 3;

/** What the relay says of itself: it is up while its folder can take recordings. */
export async function readHealth(dir: string): Promise<Health> {
  const disk = await statfs(dir).then(
    (fs) => (fs.bavail * fs.bsize >= LEAST_FREE_BYTES ? ('up' as const) : ('down' as const)),
    () => 'down' as const,
  );
  return { process: 'relay', up: disk === 'up', parts: { disk }, uptimeS: Math.floor(process.uptime()) };
}

/** Answers `/healthz`, and says of anything else that it is not here. */
export function answerHealth(dir: string, req: IncomingMessage, res: ServerResponse): void {
  if (req.url !== '/healthz') {
    res.writeHead(404).end();
    return;
  }
  void readHealth(dir).then((health) => {
    res.writeHead(health.up ? 200 : 503, { 'Content-Type': 'application/json' });
    res.end(JSON.stringify(health));
  });
}
