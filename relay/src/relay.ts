import type { LineTestReport, LineTestRequest, RelayReport } from '@juncta/contract/relay';
import { mkdirSync, readFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { createServer as createHttpsServer } from 'node:https';
import type { AddressInfo } from 'node:net';
import type { Logger } from 'pino';
import type { RelayConfig } from './config';
import { Control, type Controlled } from './control/control';
import { testLine } from './feeds/line-test';
import { roundTrip } from './feeds/round-trip';
import { answerHealth } from './health/health';
import { Load } from './health/load';
import { IngestDoor } from './ingest/ingest-door';
import type { Input } from './ingest/input';
import { PlainSlates } from './ingest/plain-slate';
import { UplinkSockets } from './uplink/uplink-socket';
import { RelayedShow } from './relayed-show';
import { Recordings } from './recordings/recordings';
import { makeSilence, type Silence } from './media/opus-to-aac';

/** Splicers and feeds are driven this often: well under a frame's time apart would only cost more. */
const TICK_MS = 20;
const LOAD_EVERY_MS = 1000;
/** Of TLS: whoever connects and does not speak it. */
const HANDSHAKE_MS = 5000;
const DEATH_AFTER_MS = 100;

export interface RunningRelay {
  readonly relay: Relay;
  /** Of the uplink. */
  readonly port: number;
  readonly controlPort: number;
  /** For outside encoders. */
  readonly ingestPort: number;
  close(): Promise<void>;
}

/**
 * The relay: receives programmes and sends feeds. A process of its own, so that a restart of the web server does not
 * touch what viewers see. It does what the server tells it and remembers nothing that cannot be told again, but for
 * what it records.
 */
export class Relay implements Controlled {
  readonly recordings: Recordings;
  private readonly shows = new Map<string, RelayedShow>();
  private control: Control | null = null;
  private sockets: UplinkSockets | null = null;
  private readonly plainSlates = new PlainSlates();

  private constructor(
    private readonly config: RelayConfig,
    private readonly silence: Silence,
    readonly log: Logger,
  ) {
    this.recordings = new Recordings(config.dir, log, () => this.control?.changed());
  }

  static async start(config: RelayConfig, log: Logger): Promise<RunningRelay> {
    mkdirSync(config.dir, { recursive: true });
    const relay = new Relay(config, await makeSilence(), log);
    const control = (relay.control = new Control(relay, config.secret));
    const inside = createServer((req, res) => {
      if (req.url?.startsWith('/control/')) void control.handle(req, res);
      else answerHealth(config.dir, req, res);
    });
    const nothing = (_req: IncomingMessage, res: ServerResponse) => res.writeHead(404).end();
    const https = config.https && {
      cert: readFileSync(config.https.certFile),
      key: readFileSync(config.https.keyFile),
    };
    const outside = https
      ? createHttpsServer({ ...https, handshakeTimeout: HANDSHAKE_MS }, nothing)
      : createServer(nothing);
    const ingest = new IngestDoor({ find: (inputId) => relay.findInput(inputId) }, https, log);
    relay.sockets = new UplinkSockets(outside, https !== null, relay, config.secret, log);
    await listen(outside, config.port, config.host);
    await listen(inside, config.controlPort, '127.0.0.1');
    await ingest.listen(config.ingestPort, config.host);
    const ticking = setInterval(() => relay.tick(), TICK_MS);
    relay.recordings.takeUp();
    return {
      relay,
      port: portOf(outside),
      controlPort: portOf(inside),
      ingestPort: ingest.port,
      async close() {
        clearInterval(ticking);
        control.close();
        relay.sockets?.close();
        ingest.close();
        for (const show of relay.shows.values()) await show.close();
        await relay.recordings.close();
        for (const http of [outside, inside]) {
          http.close();
          http.closeAllConnections();
        }
      },
    };
  }

  of(showId: string): RelayedShow {
    let show = this.shows.get(showId);
    if (!show) {
      show = new RelayedShow(showId, {
        dir: this.config.dir,
        host: this.config.host,
        cost: this.config.machine.cost,
        silence: this.silence,
        allowLocalPlaces: this.config.allowLocalPlaces,
        recordings: this.recordings,
        log: this.log,
        loadPercent: () => this.loadPercent,
        cutUplink: (of, ms) => this.sockets?.cutUplink(of, ms),
        slowUplink: (of, ms) => this.sockets?.slowUplink(of, ms),
        // After whoever gave the order has its answer. As killed: nothing is ended in good order.
        die: () => void setTimeout(() => process.kill(process.pid, 'SIGKILL'), DEATH_AFTER_MS),
        changed: () => this.control?.changed(),
        plainSlate: (wants) => this.plainSlates.of(wants),
      });
      this.shows.set(showId, show);
      // A desk may be back before the server: what it sends belongs to the run that went on.
      const open = this.recordings.openRun(showId);
      if (open) show.beginRun(open.record.runId);
    }
    return show;
  }

  private findInput(inputId: string): Input | null {
    for (const { inputs } of this.shows.values()) {
      const input = inputs.find(inputId);
      if (input) return input;
    }
    return null;
  }

  /** Somebody takes over the composing of a show, or whoever did it may no longer: they are told. */
  setEpoch(showId: string, epoch: number, isRevoked: boolean): void {
    const { desk } = this.of(showId);
    desk.epoch = Math.max(desk.epoch, epoch);
    if (isRevoked) {
      desk.revokedBelow = Math.max(desk.revokedBelow, epoch);
      this.sockets?.dropRevoked(showId, epoch);
    } else this.sockets?.dropOlder(showId, epoch);
  }

  get canRenew(): boolean {
    const sinceMs = this.control?.followedSinceMs ?? null;
    return sinceMs !== null && Date.now() - sinceMs >= this.config.renewLeewayMs;
  }

  /** One after the other: two at once would measure each other. */
  testLine(request: LineTestRequest): Promise<LineTestReport> {
    const test = this.testing.then(() => testLine(request, this.config.allowLocalPlaces));
    this.testing = test.catch(() => undefined);
    return test;
  }
  private testing: Promise<unknown> = Promise.resolve();

  roundTrips(addresses: readonly string[]): Promise<(number | null)[]> {
    return Promise.all(addresses.map((address) => roundTrip(address, this.config.allowLocalPlaces)));
  }

  report(): RelayReport {
    return {
      atMs: Date.now(),
      machine: this.config.machine,
      programmes: [...this.shows.values()].map((show) => show.report()),
    };
  }

  private readonly load = new Load();
  private loadPercent = 0;
  private loadAtMs = 0;

  private tick(): void {
    const nowMs = performance.now();
    if (nowMs - this.loadAtMs >= LOAD_EVERY_MS) {
      this.loadAtMs = nowMs;
      this.loadPercent = this.load.percent(nowMs);
    }
    for (const { programme, showId } of this.shows.values()) {
      try {
        programme.tick(nowMs);
      } catch (error) {
        // One show's trouble is its own.
        this.log.error({ err: error, show: showId }, 'programme');
      }
    }
  }
}

function listen(http: Server, port: number, host: string): Promise<void> {
  return new Promise((done, failed) => {
    http.once('error', failed);
    http.listen(port, host, done);
  });
}

const portOf = (http: Server): number => (http.address() as AddressInfo).port;
