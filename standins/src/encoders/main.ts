import { makeLog } from '@juncta/runtime/log';
import { type ChildProcess, spawn } from 'node:child_process';
import express from 'express';
import * as z from 'zod';
import { encoderClip, KINDS } from './clip';

/**
 * Made-up encoders, for whoever has none at hand: each sends its clip over and over to an address with a key, over the
 * network as any other does, and tries again when it is let go.
 *
 * Environment: PORT, STANDIN_DIR, GUESTS_DIR (where the stand-in guests keep what they send).
 */
const log = makeLog('stand-in-encoders', 'info');
const { STANDIN_DIR: dir, GUESTS_DIR: guestsDir, PORT: port } = process.env;
if (!dir || !guestsDir) {
  process.stderr.write('STANDIN_DIR and GUESTS_DIR must be set\n');
  process.exit(1);
}

/** No more at once: each is a process of its own. */
const MOST = 6;
const AGAIN_MS = 1500;

interface Sending {
  child: ChildProcess | null;
  again: NodeJS.Timeout | null;
  stopped: boolean;
}
const sending = new Map<string, Sending>();

const Order = z.object({
  kind: z.enum(KINDS),
  address: z.string().regex(/^(rtmp|srt):\/\/\S+$/),
  key: z.string().regex(/^[\w-]+$/),
});

const http = express();
http.disable('x-powered-by');
http.use(express.json({ limit: '4kb' }));
http.get('/healthz', (_req, res) => {
  res.json({ process: 'stand-in-encoders', up: true, parts: {}, uptimeS: Math.floor(process.uptime()) });
});

http.put('/encoders/:id', (req, res) => {
  const order = Order.safeParse(req.body);
  if (!order.success) {
    res.status(400).json({ message: 'kind, address and key' });
    return;
  }
  stop(req.params.id);
  if (sending.size >= MOST) {
    res.status(409).json({ message: `at most ${MOST} at once` });
    return;
  }
  const { kind, address, key } = order.data;
  const one: Sending = { child: null, again: null, stopped: false };
  sending.set(req.params.id, one);
  // The first time it is made, which takes some seconds: whoever asked sees it come.
  encoderClip(kind, dir, guestsDir).then(
    (clip) => send(one, clip, address, key),
    (error: unknown) => log.error({ err: error }, 'a clip could not be made'),
  );
  res.json({});
});

http.delete('/encoders/:id', (req, res) => {
  stop(req.params.id);
  res.json({});
});

function send(one: Sending, clip: string, address: string, key: string): void {
  if (one.stopped) return;
  const child = spawn(
    'ffmpeg',
    [
      '-hide_banner',
      '-nostdin',
      '-v',
      'error',
      '-re',
      '-stream_loop',
      '-1',
      '-i',
      clip,
      '-c',
      'copy',
      ...target(address, key),
    ],
    { stdio: ['ignore', 'ignore', 'ignore'] },
  );
  one.child = child;
  const over = () => {
    if (one.child !== child) return;
    one.child = null;
    if (!one.stopped) one.again = setTimeout(() => send(one, clip, address, key), AGAIN_MS);
  };
  child.once('error', over);
  child.once('close', over);
}

function target(address: string, key: string): string[] {
  return address.startsWith('srt:')
    ? ['-f', 'mpegts', `${address}?mode=caller&passphrase=${key}`]
    : ['-f', 'flv', `${address}/${key}`];
}

function stop(id: string): void {
  const one = sending.get(id);
  if (!one) return;
  sending.delete(id);
  one.stopped = true;
  if (one.again) clearTimeout(one.again);
  one.child?.kill('SIGKILL');
}

const server = http.listen(Number(port), '127.0.0.1', () => log.info({ port: Number(port) }, 'listening'));
for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.on(signal, () => {
    for (const id of [...sending.keys()]) stop(id);
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
