import type { ProgrammeReport, RelayReport } from '@juncta/contract/relay';
import { isUnderWay } from '@juncta/core/relay';
import type { Logger } from 'pino';
import type { App } from '../app';
import type { Config } from '../config';
import { isDatabaseAway } from '../database/connect';
import { connectorOf } from '../destinations/connectors';
import { placeAsker, type AskPlace } from '../destinations/ask-place';
import { findDestination, type DestinationRow } from '../destinations/store';
import { appendEvent } from '../events/store';
import { RelayClient } from './relay-client';
import * as store from './store';

/** Places are looked at so often while a feed is under way there. */
const LOOK_EVERY_MS = 2000;

interface Listening {
  figures(atMs: number, programmes: readonly ProgrammeReport[]): void;
  /** A state of this show's programme or of its feeds is another. */
  changed(showId: string): void;
}

/**
 * The server's side of the relay: keeps what it reports, tells it again what the team wants when either was away, and
 * looks at the places from outside, which the relay cannot.
 */
export class RelayLink {
  readonly client: RelayClient;
  private readonly stopped = new AbortController();
  private app!: App;
  private ask!: AskPlace;
  private listening!: Listening;
  private latest = new Map<string, ProgrammeReport>();
  private following: Promise<void> | undefined;
  private looking: NodeJS.Timeout | undefined;
  private readonly lookedAt = new Set<string>();
  private keeping: Promise<unknown> = Promise.resolve();

  constructor(
    readonly config: NonNullable<Config['relay']>,
    private readonly log: Logger,
  ) {
    this.client = new RelayClient(config.url, config.secret, log);
  }

  start(app: App, listening: Listening): void {
    this.app = app;
    this.listening = listening;
    this.ask = placeAsker(app.config.allowLocalPlaces, () => app.securityClock.now());
    this.following = this.client.follow(this.stopped.signal, {
      connected: () => void this.reconcile(),
      report: (report) => this.take(report),
      lost: () => this.latest.clear(),
    });
    this.looking = setInterval(() => void this.lookAtAll(), LOOK_EVERY_MS);
  }

  async stop(): Promise<void> {
    clearInterval(this.looking);
    this.stopped.abort();
    await this.following;
    await this.keeping;
  }

  /** The programme as the relay last told it; null while the relay is away or knows nothing of the show. */
  reportOf(showId: string): ProgrammeReport | null {
    return this.latest.get(showId) ?? null;
  }

  /** Where a feed to this destination is to be sent, as the place says now. */
  async ingestOf(row: DestinationRow) {
    const target = { id: row.id, address: row.address, secret: this.app.secrets.unlock(row.secret!, row.id) };
    const connector = connectorOf(row.kind);
    return { ...(await connector.ingest(target, this.ask)), arrival: connector.arrival };
  }

  /** Keeps what an order's answer says, so that whoever gave it finds it done. */
  async keep(report: ProgrammeReport): Promise<void> {
    this.latest.set(report.showId, report);
    await this.write(report, this.app.securityClock.now());
  }

  private take(report: RelayReport): void {
    this.latest = new Map(report.programmes.map((programme) => [programme.showId, programme]));
    this.listening.figures(report.atMs, report.programmes);
    this.keeping = this.keeping
      .then(async () => {
        for (const programme of report.programmes) await this.write(programme, report.atMs);
      })
      .catch((error: unknown) => {
        // The next report comes in a second, and says everything again.
        if (!isDatabaseAway(error)) this.log.error({ err: error }, 'the relay’s report could not be kept');
      });
  }

  private async write(programme: ProgrammeReport, atMs: number): Promise<void> {
    const last = this.written.get(programme.showId);
    const states = store.statesOf(programme);
    if (last === states) return;
    await this.app.db.transaction(async (tx) => {
      if (await store.keepReport(tx, programme, atMs)) {
        await appendEvent(tx, this.app.clock, 'relay', 'programme.changed', { programme });
      }
    });
    this.written.set(programme.showId, states);
    this.listening.changed(programme.showId);
  }
  private readonly written = new Map<string, string>();

  /** The relay or this server was away: runs that go on and feeds that are wanted are told once more. */
  private async reconcile(): Promise<void> {
    try {
      const { db } = this.app;
      for (const run of await store.openRuns(db)) {
        const composing = await store.findComposing(db, run.showId);
        if (composing) await this.client.setEpoch(run.showId, composing.epoch);
        await this.client.beginRun(run.showId, run.id);
      }
      for (const { showId, destinationId } of await store.wantedFeeds(db)) {
        const report = await this.client.report(showId);
        const known = report.feeds.find((feed) => feed.destinationId === destinationId);
        const row = await findDestination(db, destinationId);
        if (known || !row) continue;
        await this.client.startFeed(showId, destinationId, await this.ingestOf(row));
        this.log.info({ show: showId, destination: destinationId }, 'feed taken up again');
      }
    } catch (error) {
      this.log.warn({ err: error }, 'the relay could not be told everything again');
    }
  }

  private async lookAtAll(): Promise<void> {
    for (const programme of this.latest.values()) {
      for (const feed of programme.feeds) {
        if (isUnderWay(feed.state) && feed.state !== 'dialling' && feed.state !== 'recovering') {
          void this.lookAt(programme.showId, feed.destinationId);
        }
      }
    }
  }

  private async lookAt(showId: string, destinationId: string): Promise<void> {
    const name = `${showId} ${destinationId}`;
    if (this.lookedAt.has(name)) return;
    this.lookedAt.add(name);
    try {
      const row = await findDestination(this.app.db, destinationId);
      const look = row && connectorOf(row.kind).look;
      if (!look) return;
      const target = {
        id: row.id,
        address: row.address,
        secret: this.app.secrets.unlock(row.secret!, row.id),
      };
      const seen = await look(target, this.ask);
      await this.client.seen(showId, destinationId, seen.public);
    } catch (error) {
      // Not having seen is not having seen that it is not there: the state stays.
      this.log.debug({ err: error, destination: destinationId }, 'nobody could look');
    } finally {
      this.lookedAt.delete(name);
    }
  }
}
