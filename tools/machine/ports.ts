import { randomInt } from 'node:crypto';
import { createServer } from 'node:net';

/** Whether a port on loopback can be listened on just now. */
export function isFree(port: number, host = '127.0.0.1'): Promise<'free' | 'taken' | 'not_allowed'> {
  return new Promise((answer) => {
    const probe = createServer();
    probe.once('error', (error: NodeJS.ErrnoException) =>
      answer(error.code === 'EACCES' ? 'not_allowed' : 'taken'),
    );
    probe.listen(port, host, () => probe.close(() => answer('free')));
  });
}

/**
 * Ports for our own processes come from here: below those that the kernel gives to outgoing connections (32768 and up),
 * any of which could take a port between our finding it free and the process listening on it.
 */
const FIRST = 20_000;
const COUNT = 10_000;
const given = new Set<number>();

/** A free port on loopback that has not been given before. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = FIRST + randomInt(COUNT);
    if (given.has(port) || (await isFree(port)) !== 'free') continue;
    given.add(port);
    return port;
  }
}
