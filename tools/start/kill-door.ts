import { timingSafeEqual } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';

/** Processes that a drill may end, to see what becomes of a show. The server and the relay end themselves. */
const MAY_BE_KILLED = new Set(['janus', 'database']);

/**
 * A door on loopback for drills: `POST /kill/NAME` with the secret kills a process, which is then brought back as after
 * any accident. Gives the door's address.
 */
export async function openKillDoor(secret: string, kill: (name: string) => boolean): Promise<string> {
  const wanted = Buffer.from(`Bearer ${secret}`);
  const http = createServer((req, res) => {
    const given = Buffer.from(req.headers.authorization ?? '');
    const name = /^\/kill\/([a-z-]+)$/.exec(req.url ?? '')?.[1] ?? '';
    const isLetIn = given.length === wanted.length && timingSafeEqual(given, wanted);
    const status = !isLetIn
      ? 401
      : req.method !== 'POST' || !MAY_BE_KILLED.has(name)
        ? 404
        : kill(name)
          ? 200
          : 409;
    res.writeHead(status).end();
  });
  http.unref();
  await new Promise<void>((done) => http.listen(0, '127.0.0.1', done));
  return `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
}
