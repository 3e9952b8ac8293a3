import { get as httpGet } from 'node:http';
import { get as httpsGet } from 'node:https';
import { connect } from 'node:net';

/** Whether a process is there, which is another question than whether all is well with it. */

const ANSWER_TIMEOUT_MS = 1000;
/** A machine that has too much to do may take so long. */
export const ALIVE_TIMEOUT_MS = 5000;

/** Whether something takes connections there. A process that hangs still does: the kernel takes them for it. */
export function listens(port: number): Promise<boolean> {
  return new Promise((answer) => {
    const socket = connect({ port, host: '127.0.0.1', timeout: ANSWER_TIMEOUT_MS });
    const done = (up: boolean) => {
      socket.destroy();
      answer(up);
    };
    socket.on('connect', () => done(true));
    socket.on('timeout', () => done(false));
    socket.on('error', () => done(false));
  });
}

/** Whether a process answers with 200. Its own certificate is not asked for its name here. */
export const isWell = async (url: string): Promise<boolean> =>
  (await statusOf(url, ANSWER_TIMEOUT_MS)) === 200;

/** Whether a process answers at all, be it that it cannot do its work just now. */
export const answers = async (url: string): Promise<boolean> =>
  (await statusOf(url, ALIVE_TIMEOUT_MS)) !== null;

/** Whether whatever listens there says a word to HTTP, or hangs up: both take a process that runs. */
export function reacts(port: number): Promise<boolean> {
  return new Promise((answer) => {
    const socket = connect({ port, host: '127.0.0.1' });
    const done = (alive: boolean) => {
      clearTimeout(late);
      socket.destroy();
      answer(alive);
    };
    const late = setTimeout(() => done(false), ALIVE_TIMEOUT_MS);
    socket.on('connect', () =>
      socket.write('GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n'),
    );
    socket.on('data', () => done(true));
    socket.on('end', () => done(true));
    socket.on('error', (error: NodeJS.ErrnoException) => done(error.code === 'ECONNRESET'));
  });
}

function statusOf(url: string, timeout: number): Promise<number | null> {
  const get = url.startsWith('https:') ? httpsGet : httpGet;
  return new Promise((answer) => {
    const request = get(url, { rejectUnauthorized: false, timeout }, (response) => {
      response.resume();
      answer(response.statusCode ?? null);
    });
    request.on('timeout', () => request.destroy());
    request.on('error', () => answer(null));
  });
}
