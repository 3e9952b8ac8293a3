import { makeLog } from '@juncta/runtime/log';
import express from 'express';
import * as z from 'zod';
import { clipOf } from './clip';
import { GUESTS } from './face';
import { Guest } from './guest';

/**
 * Made-up guests, for whoever has nobody to talk to: up to four, each with a moving face and a voice. They are asked
 * to come by this process's own small door, and come through the house's front door.
 *
 * Environment: PORT, STANDIN_DIR, HOUSE_URL.
 */
const log = makeLog('stand-in-guests', 'info');
const { STANDIN_DIR: dir, HOUSE_URL: houseUrl, PORT: port } = process.env;
if (!dir || !houseUrl) {
  process.stderr.write('STANDIN_DIR and HOUSE_URL must be set\n');
  process.exit(1);
}

/** By the number of their look. */
const inHouse = new Map<number, Guest>();

const http = express();
http.disable('x-powered-by');
http.use(express.json({ limit: '4kb' }));
http.get('/healthz', (_req, res) => {
  res.json({ process: 'stand-in-guests', up: true, parts: {}, uptimeS: Math.floor(process.uptime()) });
});

/** Who there is, in their order. */
http.get('/guests', (_req, res) => {
  res.json({
    guests: GUESTS.map(({ name }, index) => ({ name, inHouse: inHouse.get(index)?.gone === false })),
  });
});

/** Comes by a personal link's token. */
http.put('/guests/:index', async (req, res) => {
  const index = z.coerce
    .number()
    .int()
    .min(0)
    .max(GUESTS.length - 1)
    .safeParse(req.params.index);
  const body = z.object({ token: z.string() }).safeParse(req.body);
  if (!index.success || !body.success) {
    res.status(400).json({ message: 'a guest from 0 to 3, and the token of a link' });
    return;
  }
  inHouse.get(index.data)?.leave();
  const guest = new Guest(houseUrl, await clipOf(index.data, dir), log.child({ guest: index.data }));
  await guest.enter(body.data.token);
  inHouse.set(index.data, guest);
  res.json({});
});

http.delete('/guests/:index', (req, res) => {
  inHouse.get(Number(req.params.index))?.leave();
  inHouse.delete(Number(req.params.index));
  res.json({});
});

// Made before the first can be asked for: encoding beside a show would take the time that composing needs.
for (const index of GUESTS.keys()) await clipOf(index, dir);
const server = http.listen(Number(port ?? 0), '127.0.0.1', () => {
  log.info({ address: server.address() }, 'listening');
});
for (const signal of ['SIGTERM', 'SIGINT']) {
  process.on(signal, () => {
    for (const guest of inHouse.values()) guest.leave();
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
