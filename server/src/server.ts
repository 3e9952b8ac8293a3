import { RecentLines } from '@juncta/runtime/log';
import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { createServer as createHttpsServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import type { Logger } from 'pino';
import { SecretBox } from './access/secret-box';
import { sweepSessions } from './access/sessions';
import { RateLimits } from './access/rate-limits';
import type { App } from './app';
import { followRehearsalClock } from './clock/rehearsal-clock';
import { securityClock as machineClock, ServerClock } from './clock/server-clock';
import type { Clock } from '@juncta/core/clock';
import type { Config } from './config';
import { connect, migrateDatabase } from './database/connect';
import { ChatLines } from './chat/ingest/chat-lines';
import { OverlayPages } from './chat/overlay/overlay-pages';
import { RulesBook } from './destinations/rules-book';
import { placeAsker } from './destinations/ask-place';
import { hideAddressSecrets } from './destinations/hide-secrets';
import { refreshDemo } from './demo/seed';
import { LaunchJobs } from './listings/launch-jobs';
import { RoomSocket } from './people/room/room-socket';
import { EventSocket } from './events/socket';
import { sweepEvents } from './events/store';
import type { HealthState } from './health/routes';
import { makeHttp } from './http-app';
import { RelayLink } from './relay/relay-link';

export interface RunningServer {
  readonly app: App;
  readonly relay: RelayLink | null;
  readonly port: number;
  /** Lets what is under way finish, for at most {@link DRAIN_MS}, and stops. */
  close(): Promise<void>;
}

/** Requests under way get so long to finish. */
const DRAIN_MS = 8000;
const SWEEP_EVERY_MS = 3_600_000;
/** Whoever sends a request byte by byte, or begins one and stops, holds a connection for no longer: all of it in ms. */
const PATIENCE = {
  headersTimeout: 10_000,
  requestTimeout: 60_000,
  connectionsCheckingInterval: 2000,
} as const;
const HANDSHAKE_MS = 5000;

/** Starts the server: tables first, then the demo where it is on, then the doors. */
export async function startServer(
  config: Config,
  log: Logger,
  {
    securityClock = machineClock,
    recent = new RecentLines(),
  }: {
    /** A test brings its own, to see what time does to sessions and links. */
    securityClock?: Clock;
    /** What the log said last. */
    recent?: RecentLines;
  } = {},
): Promise<RunningServer> {
  const connection = connect(config.databaseUrl, config.databaseConnectMs, log);
  const clock = new ServerClock();
  const relay = config.relay && new RelayLink(config.relay, log);
  const app: App = {
    db: connection.db,
    connection,
    clock,
    securityClock,
    rateLimits: new RateLimits(connection.pool),
    secrets: new SecretBox(config.secretsKey),
    ask: placeAsker(config.allowLocalPlaces, () => securityClock.now()),
    rules: new RulesBook(),
    relay,
    log,
    recent,
    config,
  };
  await migrateDatabase(connection, config.migrationsDir);
  await hideAddressSecrets(app);
  if (config.demo) await refreshDemo(app);
  await app.rules.read(app.db);
  const unfollow = config.clockUrl ? followRehearsalClock(config.clockUrl, clock, log) : () => undefined;

  const health: HealthState = { closing: false };
  const lines = new ChatLines(app);
  const overlays = new OverlayPages(app, lines);
  const http = listenable(config, makeHttp(app, health, lines, overlays));
  const socket: EventSocket = new EventSocket(http, app, config.databaseUrl, () => {
    void room.recheck();
    void relay?.dropRevoked();
  });
  const room = new RoomSocket(socket.io, app);
  overlays.serve(socket.io, socket);
  await new Promise<void>((done, failed) => {
    http.once('error', failed);
    http.listen(config.port, config.host, done);
  });
  relay?.start(app, {
    figures: (atMs, programmes) => socket.tellFigures(atMs, programmes),
    changed: (showId) => room.programmeChanged(showId),
    viewers: (counted) => socket.tellViewers(counted),
  });
  lines.start();
  const jobs = new LaunchJobs(app);
  jobs.start();
  const { port } = http.address() as AddressInfo;
  log.info({ port, demo: config.demo }, 'listening');

  const sweeping = setInterval(() => void sweep(app), SWEEP_EVERY_MS);
  return {
    app,
    relay,
    port,
    async close() {
      health.closing = true;
      clearInterval(sweeping);
      unfollow();
      await relay?.stop();
      lines.stop();
      jobs.stop();
      room.close();
      overlays.close();
      await socket.close();
      await drain(http);
      await connection.pool.end();
    },
  };
}

function listenable(config: Config, handler: ReturnType<typeof makeHttp>): Server {
  if (!config.https) return createServer(PATIENCE, handler);
  const { certFile, keyFile } = config.https;
  const tls = { cert: readFileSync(certFile), key: readFileSync(keyFile), handshakeTimeout: HANDSHAKE_MS };
  return createHttpsServer({ ...PATIENCE, ...tls }, handler);
}

async function drain(http: Server): Promise<void> {
  const closed = new Promise<void>((done) => http.close(() => done()));
  http.closeIdleConnections();
  const forced = setTimeout(() => http.closeAllConnections(), DRAIN_MS);
  await closed;
  clearTimeout(forced);
}

async function sweep(app: App): Promise<void> {
  try {
    await sweepSessions(app.db, app.securityClock);
    await sweepEvents(app.db, app.clock);
  } catch (error) {
    app.log.warn({ err: error }, 'old sessions and events could not be swept; trying again in an hour');
  }
}
