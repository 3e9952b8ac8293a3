import type { PlaceHealth } from '@juncta/contract/feeds';
import type { EncodingMachine, ProgrammeReport, RelayReport } from '@juncta/contract/relay';
import { streamOf } from '@juncta/contract/events';
import { isUnderWay } from '@juncta/core/feeds';
import type { Logger } from 'pino';
import type { App } from '../app';
import type { Config } from '../config';
import { isDatabaseAway } from '../database/connect';
import { countViewers } from '../listings/store';
import { endListings, lookAtListing, openListing } from '../listings/at-place';
import { ViewerDelays } from '../listings/viewer-delays';
import { appendEvent } from '../events/store';
import { findShow } from '../shows/store';
import { addSamples, wantedFeeds } from '../feeds/store';
import { bookingOf } from '../ingest/book-inputs';
import { showsWithInputs, takenInput } from '../ingest/store';
import { carriedTo } from '../renditions/plan';
import { findComposing, revokeComposings } from '../programme/composing';
import { keepReport, openRuns, statesOf } from '../programme/store';
import type { Relay } from './relay';
import { RelayClient } from './relay-client';

/** Places are looked at so often while a feed is under way there. */
const LOOK_EVERY_MS = 2000;
/** Sessions that ran out are looked for this often; one that was ended is heard of at once. */
const REVOKE_EVERY_MS = 30_000;
/** Figures of feeds are kept this often. */
const SAMPLE_EVERY_MS = 5000;

interface Listening {
  figures(atMs: number, programmes: readonly ProgrammeReport[]): void;
  /** A state of this show's programme or of its feeds is another. */
  changed(showId: string): void;
  /** Who watches where now. */
  viewers(counted: readonly { showId: string; destinationId: string; viewers: number | null }[]): void;
}

/**
 * The server's side of the relay: keeps what it reports, tells it again what the team wants when either was away, and
 * looks at the places from outside, which the relay cannot.
 */
export class RelayLink implements Relay {
  readonly client: RelayClient;
  private readonly stopped = new AbortController();
  private app!: App;
  private delays!: ViewerDelays;
  private listening!: Listening;
  private latest = new Map<string, ProgrammeReport>();
  private following: Promise<void> | undefined;
  private looking: NodeJS.Timeout | undefined;
  private sampling: NodeJS.Timeout | undefined;
  private revoking: NodeJS.Timeout | undefined;
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
    this.delays = new ViewerDelays(app);
    this.listening = listening;
    this.following = this.client.follow(this.stopped.signal, {
      connected: () => {
        this.heard = true;
        this.isNew = true;
      },
      report: (report) => {
        this.take(report);
        // With its first report, which says what may be encoded there.
        if (this.isNew) void this.reconcile();
        this.isNew = false;
      },
      lost: () => {
        this.heard = false;
        this.latest.clear();
        this.toldEpochs.clear();
      },
    });
    this.begin();
    // Whose session ended while no server ran.
    void this.dropRevoked();
    this.revoking = setInterval(() => void this.dropRevoked(), REVOKE_EVERY_MS);
    this.sampling = setInterval(() => void this.sample(), SAMPLE_EVERY_MS);
    this.looking = setInterval(() => {
      void this.lookAtAll();
      void this.endWhatIsOver();
    }, LOOK_EVERY_MS);
  }

  async stop(): Promise<void> {
    clearInterval(this.looking);
    clearInterval(this.sampling);
    clearInterval(this.revoking);
    this.stopped.abort();
    await this.following;
    await this.keeping;
  }

  reportOf(showId: string): ProgrammeReport | null {
    return this.latest.get(showId) ?? null;
  }

  get isUp(): boolean {
    return this.heard;
  }
  private heard = false;
  private isNew = false;

  machine: EncodingMachine | null = null;

  latestReports(): readonly ProgrammeReport[] {
    return [...this.latest.values()];
  }

  viewersAt(showId: string, destinationId: string): number | null {
    return this.viewers.get(`${showId} ${destinationId}`) ?? null;
  }
  private readonly viewers = new Map<string, number | null>();

  healthAt(showId: string, destinationId: string): PlaceHealth | null {
    return this.health.get(`${showId} ${destinationId}`) ?? null;
  }
  private readonly health = new Map<string, PlaceHealth | null>();

  async keep(report: ProgrammeReport): Promise<ProgrammeReport> {
    this.latest.set(report.showId, report);
    this.tellChanged([report]);
    await this.write(report, this.app.securityClock.now());
    return report;
  }

  private take(report: RelayReport): void {
    this.machine = report.machine;
    this.latest = new Map(report.programmes.map((programme) => [programme.showId, programme]));
    this.listening.figures(report.atMs, report.programmes);
    this.tellChanged(report.programmes);
    this.keeping = this.keeping
      .then(async () => {
        for (const programme of report.programmes) await this.writeApart(programme, report.atMs);
      })
      .catch(() => undefined);
  }

  /**
   * Whoever follows a state is told of each that {@link reportOf} takes on, kept or not: a report that was on its way
   * while an order was answered sets it back for a moment.
   */
  private tellChanged(programmes: readonly ProgrammeReport[]): void {
    for (const programme of programmes) {
      const states = statesOf(programme);
      if (this.toldStates.get(programme.showId) === states) continue;
      this.toldStates.set(programme.showId, states);
      this.listening.changed(programme.showId);
    }
  }
  private readonly toldStates = new Map<string, string>();

  /** One programme's trouble is its own: the reports of the others are kept. The next one comes in a second. */
  private async writeApart(programme: ProgrammeReport, atMs: number): Promise<void> {
    try {
      // Beside it: a report is kept whether or not the relay takes an order just now.
      if (programme.deskId !== null) void this.tellEpoch(programme.showId).catch(() => undefined);
      await this.write(programme, atMs);
      this.notKept.delete(programme.showId);
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      if (this.notKept.has(programme.showId)) return;
      this.notKept.add(programme.showId);
      this.log.error({ err: error, show: programme.showId }, 'a programme’s report could not be kept');
    }
  }
  /** Shows whose last report could not be kept: said once. */
  private readonly notKept = new Set<string>();

  private async write(programme: ProgrammeReport, atMs: number): Promise<void> {
    const last = this.written.get(programme.showId);
    const states = statesOf(programme);
    if (last === states) return;
    await this.app.db.transaction(async (tx) => {
      if (await keepReport(tx, programme, atMs)) {
        await appendEvent(tx, this.app.clock, streamOf('programme', programme.showId), 'programme.changed', {
          programme,
        });
      }
    });
    this.written.set(programme.showId, states);
  }
  private readonly written = new Map<string, string>();

  /** The relay or this server was away: runs that go on and feeds that are wanted are told once more. */
  private async reconcile(): Promise<void> {
    try {
      const { db } = this.app;
      // Before the runs: an encoder may be back already, and is the programme where it was.
      for (const showId of await showsWithInputs(db)) {
        const booking = await bookingOf(this.app, db, showId);
        if (!booking) continue;
        await this.client.bookInputs(showId, booking);
        const taken = await takenInput(db, showId);
        if (taken !== null) await this.client.takeInput(showId, taken);
      }
      for (const run of await openRuns(db)) {
        await this.tellEpoch(run.showId);
        const show = await findShow(db, run.showId);
        if (show) await this.client.setDelay(run.showId, show.delayS);
        await this.client.beginRun(run.showId, run.id);
      }
      for (const { showId, destinationId } of await wantedFeeds(db)) await this.takeUp(showId, destinationId);
    } catch (error) {
      this.log.warn({ err: error }, 'the relay could not be told everything again');
    }
  }

  /** One feed's trouble is its own: the others are taken up all the same. */
  private async takeUp(showId: string, destinationId: string): Promise<void> {
    const { db } = this.app;
    try {
      const report = await this.client.report(showId);
      const show = await findShow(db, showId);
      if (!show || report.feeds.some((feed) => feed.destinationId === destinationId)) return;
      const carried = await carriedTo(this.app, db, this, show, destinationId);
      const ingest = await openListing(this.app, showId, destinationId);
      await this.keep(await this.client.startFeed(showId, destinationId, { ...ingest, ...carried }));
      this.log.info({ show: showId, destination: destinationId }, 'feed taken up again');
    } catch (error) {
      if (isDatabaseAway(error)) throw error;
      this.log.warn(
        { err: error, show: showId, destination: destinationId },
        'a feed was not taken up again',
      );
    }
  }

  /**
   * What the relay may not know after its own death: which desks may still send. It hears of a show when a desk is back,
   * whether or not the show runs.
   */
  private async tellEpoch(showId: string): Promise<void> {
    if (this.toldEpochs.has(showId)) return;
    this.toldEpochs.add(showId);
    try {
      const composing = await findComposing(this.app.db, showId);
      if (composing) await this.client.setEpoch(showId, composing.epoch, composing.sessionHash === null);
    } catch (error) {
      // With the next report.
      this.toldEpochs.delete(showId);
      throw error;
    }
  }
  private readonly toldEpochs = new Set<string>();

  /**
   * Cuts the lines of desks whose session has ended, or whose member may not run a show any longer. One round after the
   * other, from the start on: whoever waits for theirs finds what the one before took in hand done as well.
   */
  dropRevoked(): Promise<void> {
    this.dropping = this.dropping.then(() => this.cutRevoked());
    return this.dropping;
  }
  private begin!: () => void;
  private dropping = new Promise<void>((begun) => (this.begin = begun));

  private async cutRevoked(): Promise<void> {
    try {
      for (const { showId, epoch } of await revokeComposings(this.app.db, this.app.securityClock)) {
        this.log.info({ show: showId, epoch }, 'a desk may not compose any longer');
        // The relay may be away: it is told again when it is back.
        this.toldEpochs.delete(showId);
        await this.client.setEpoch(showId, epoch, true).catch(() => undefined);
      }
    } catch (error) {
      if (!isDatabaseAway(error)) this.log.warn({ err: error }, 'ended sessions could not be looked up');
    }
  }

  private async lookAtAll(): Promise<void> {
    for (const programme of this.latest.values()) {
      for (const feed of programme.feeds) {
        if (isUnderWay(feed.state) && feed.state !== 'dialling' && feed.state !== 'recovering') {
          void this.lookAt(programme.showId, feed.destinationId);
        } else {
          this.viewers.delete(`${programme.showId} ${feed.destinationId}`);
          this.health.delete(`${programme.showId} ${feed.destinationId}`);
        }
      }
    }
    const counted = [...this.viewers].map(([name, viewers]) => {
      const [showId, destinationId] = name.split(' ') as [string, string];
      return { showId, destinationId, viewers };
    });
    if (counted.length > 0) this.listening.viewers(counted);
  }

  /** Keeps the figures of feeds that run, for their sheets and for after the show. */
  async sample(): Promise<void> {
    const atMs = this.app.securityClock.now();
    const samples = [...this.latest.values()].flatMap(({ showId, feeds }) =>
      feeds
        .filter(({ state }) => isUnderWay(state))
        .map(({ destinationId, bitrateKbps: kbps, leftOutFrames }) => {
          const viewers = this.viewersAt(showId, destinationId);
          return { showId, destinationId, atMs, kbps, leftOutFrames, viewers };
        }),
    );
    try {
      await addSamples(this.app.db, samples);
    } catch (error) {
      // The next ones come soon; nothing depends on these.
      if (!isDatabaseAway(error)) this.log.warn({ err: error }, 'figures of feeds could not be kept');
    }
  }

  private ending = false;
  async endWhatIsOver(): Promise<void> {
    if (this.ending) return;
    this.ending = true;
    try {
      await endListings(this.app);
    } catch (error) {
      if (!isDatabaseAway(error)) this.log.warn({ err: error }, 'events that are over could not be ended');
    } finally {
      this.ending = false;
    }
  }

  async lookAt(showId: string, destinationId: string): Promise<void> {
    const name = `${showId} ${destinationId}`;
    if (this.lookedAt.has(name)) return;
    this.lookedAt.add(name);
    try {
      const seen = await lookAtListing(this.app, showId, destinationId);
      if (!seen) return;
      if (seen.viewers !== null && seen.viewers !== this.viewers.get(name)) {
        await countViewers(this.app.db, showId, destinationId, seen.viewers);
      }
      this.viewers.set(name, seen.viewers);
      this.health.set(name, seen.health);
      if (seen.delayMs != null) await this.delays.note(showId, destinationId, seen.delayMs);
      await this.client.seen(showId, destinationId, seen.public);
    } catch (error) {
      // Not having seen is not having seen that it is not there: the state stays.
      this.log.debug({ err: error, destination: destinationId }, 'nobody could look');
    } finally {
      this.lookedAt.delete(name);
    }
  }
}
