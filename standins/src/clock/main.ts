import { makeLog } from '@juncta/runtime/log';
import express from 'express';
import * as z from 'zod';

/**
 * The rehearsal clock: the one clock of a rehearsal's whole world. The server and every other stand-in follow it
 * over the network; in real use it does not run at all.
 *
 * `GET /clock` tells its setting: at the machine's instant `machineAtMs` it showed `atMs`, and since then it runs
 * `rate` times as fast. `GET /clock/changes` tells it now and at every change, as server-sent events. `PUT /clock`
 * sets it: `{"rate": 60}`, `{"atMs": 1795000000000}`, `{"aheadMs": 86400000}`, or `{"real": true}`.
 */
interface Setting {
  machineAtMs: number;
  atMs: number;
  rate: number;
}

const FASTEST = 3600;
const KEEP_ALIVE_MS = 10_000;

const Change = z.union([
  z.strictObject({ real: z.literal(true) }),
  z.strictObject({ rate: z.number().min(0).max(FASTEST), atMs: z.number().optional() }),
  z.strictObject({ atMs: z.number() }),
  z.strictObject({ aheadMs: z.number() }),
]);

const REAL: Setting = { machineAtMs: 0, atMs: 0, rate: 1 };
let setting = REAL;
const listeners = new Set<(setting: Setting) => void>();

const shown = (machineMs: number) =>
  Math.round(setting.atMs + (machineMs - setting.machineAtMs) * setting.rate);

const http = express();
http.use(express.json({ limit: '1kb' }));
http.get('/healthz', (_req, res) => {
  res.json({ process: 'rehearsal-clock', up: true, parts: {}, uptimeS: Math.floor(process.uptime()) });
});
http.get('/clock', (_req, res) => {
  res.json({ ...setting, nowMs: shown(Date.now()) });
});
http.put('/clock', (req, res) => {
  const change = Change.safeParse(req.body);
  if (!change.success) {
    res.status(400).json({ error: `rate (0 to ${FASTEST}), atMs, aheadMs or real: true` });
    return;
  }
  const machineAtMs = Date.now();
  const now = shown(machineAtMs);
  const wish = change.data;
  if ('real' in wish) setting = REAL;
  else if ('aheadMs' in wish) setting = { ...setting, machineAtMs, atMs: now + wish.aheadMs };
  else setting = { machineAtMs, atMs: wish.atMs ?? now, rate: 'rate' in wish ? wish.rate : setting.rate };
  for (const tell of listeners) tell(setting);
  res.json({ ...setting, nowMs: shown(Date.now()) });
});
http.get('/clock/changes', (req, res) => {
  res.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' });
  const tell = (now: Setting) => res.write(`data: ${JSON.stringify(now)}\n\n`);
  tell(setting);
  listeners.add(tell);
  const alive = setInterval(() => res.write(': still here\n\n'), KEEP_ALIVE_MS);
  req.on('close', () => {
    clearInterval(alive);
    listeners.delete(tell);
  });
});

const log = makeLog('rehearsal-clock', 'info');
const server = http.listen(Number(process.env['PORT'] ?? 0), '127.0.0.1', () => {
  log.info({ address: server.address() }, 'listening');
});
for (const signal of ['SIGTERM', 'SIGINT']) {
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
