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

/** A free port on loopback, chosen by the kernel. */
export function freePort(): Promise<number> {
  return new Promise((answer, failed) => {
    const probe = createServer();
    probe.once('error', failed);
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => answer(port));
    });
  });
}
