import { mkdirSync } from 'node:fs';
import pino from 'pino';
import { serveHealth } from './health/health';

/**
 * The relay: receives programmes and sends feeds. A process of its own, so that a restart of the web server does
 * not touch what viewers see. It owns one folder, in which pieces and recordings will be kept.
 */
const log = pino({ name: 'relay' });
const dir = process.env['JUNCTA_RELAY_DIR'];
const port = Number(process.env['JUNCTA_RELAY_PORT'] ?? 0);
if (!dir) {
  process.stderr.write('JUNCTA_RELAY_DIR must name the folder for pieces and recordings\n');
  process.exit(1);
}
mkdirSync(dir, { recursive: true });
const server = serveHealth(dir, port, () => log.info({ address: server.address() }, 'listening'));
for (const signal of ['SIGTERM', 'SIGINT']) {
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
