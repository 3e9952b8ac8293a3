import type { FeedWish, Hello, ProgrammeReport } from '@juncta/contract/relay';
import {
  DelayLine,
  headerTags,
  LastGroup,
  msOfSamples,
  Splicer,
  tagOf,
  type Lane,
  type Piece,
  type ProgrammeFormat,
  type ProgrammeTag,
  type SourcePicture,
  type Spliced,
} from '@juncta/core/relay';
import { findParameterSets, splitUnits, type FlvTag, type ParameterSets } from '@juncta/core/relay/flv';
import { SAMPLE_RATE_HZ } from '@juncta/core/stage';
import path from 'node:path';
import { statfs } from 'node:fs/promises';
import type { Logger } from 'pino';
import { ShowDrill } from '../drill/show-drill';
import { Feed, type FeedSource } from '../feeds/feed';
import { SessionStore } from '../intake/session-store';
import { AiredFile } from '../recordings/aired-file';
import type { Recordings } from '../recordings/recordings';
import type { Run } from '../recordings/run';
import { OpusToAac, SOUND_KBPS, type Silence } from '../sound/opus-to-aac';

/** What all programmes of the relay share. */
export interface ProgrammeHouse {
  readonly dir: string;
  readonly silence: Silence;
  readonly allowLocalPlaces: boolean;
  readonly recordings: Recordings;
  readonly log: Logger;
  /** Of one core, over the last seconds. */
  loadPercent(): number;
  /** Something in the report has changed that is worth telling at once. */
  changed(): void;
  /** Faults of a drill: on the way from the desk, and of this process. */
  cutUplink(showId: string, ms: number): void;
  slowUplink(showId: string, ms: number): void;
  die(): void;
}

/** The desk's end of the pieces' socket, as the programme sees it. */
export interface DeskLine {
  readonly deskId: string;
  readonly acknowledge: (lane: Lane, number: number) => void;
  wantKeyframe(): void;
}

export type Admission = { readonly ok: true } | { readonly ok: false; readonly sentence: string };

/** Something that came, and what to do with it in its turn. */
interface Held {
  readonly act: (nowMs: number) => void;
  /** A picture or a sound: what can be kept from viewers. */
  readonly isMedia: boolean;
}

const DISK_EVERY_MS = 5000;
const INCOMING_MS = 3000;

/** One show at the relay: what comes from its desk is spliced, sent on by its feeds, and recorded. */
export class Programme {
  private readonly log: Logger;
  private splicer: Splicer;
  private format: ProgrammeFormat | null = null;
  private readonly group = new LastGroup();
  private readonly feeds = new Map<string, Feed>();
  private desk: DeskLine | null = null;
  private hello: Hello | null = null;
  /** The session that is being joined: with a delay, not always the one that is connected. */
  private joined: Hello | null = null;
  private lastNumber = 0;
  private converter: OpusToAac | null = null;
  private slate: SourcePicture[] = [];
  private readonly stores = new Map<string, Promise<SessionStore>>();
  private run: Run | null = null;
  /** What the desk sent, until it is to go out. */
  private held = new DelayLine<Held>(0);
  /** The timeline at the run's first picture, in samples; null until it has come. */
  private zero: number | null = null;
  private aired: AiredFile | null = null;
  private diskProblem = false;
  private disk: { freeBytes: number | null; readAtMs: number } = { freeBytes: null, readAtMs: -Infinity };
  private incoming: { atMs: number; bytes: number }[] = [];
  epoch = 0;

  constructor(
    readonly showId: string,
    private readonly house: ProgrammeHouse,
  ) {
    this.log = house.log.child({ show: showId });
    this.splicer = new Splicer(house.silence.frame);
    void this.readDisk(Date.now());
    this.drill = new ShowDrill(path.join(house.dir, `drill-${showId}.json`), this.source, {
      shown: () => this.splicer.state,
      cutUplink: (ms) => house.cutUplink(showId, ms),
      slowUplink: (ms) => house.slowUplink(showId, ms),
      die: () => house.die(),
      changed: () => house.changed(),
      log: this.log,
    });
  }
  readonly drill: ShowDrill;

  // --- The desk

  /** A desk's live lane begins. Its format must be the show's, once that is settled. */
  admit(hello: Hello, desk: DeskLine): Admission {
    const { format } = this;
    if (format && (format.width !== hello.width || format.height !== hello.height)) {
      return {
        ok: false,
        sentence: `This show runs at ${format.width}x${format.height}, and that cannot change while it runs.`,
      };
    }
    const again = this.hello?.session === hello.session;
    this.desk = desk;
    this.hello = hello;
    if (!again) {
      this.lastNumber = 0;
      this.inTurn(() => this.newSession(hello));
    } else this.inTurn(() => this.splicer.gap());
    this.house.changed();
    return { ok: true };
  }

  /** The desk's line is gone. Another may have come in the meantime, which stays. */
  leave(desk: DeskLine): void {
    if (this.desk !== desk) return;
    this.desk = null;
    this.house.changed();
  }

  /** One piece as it came, whole and sound. Only the live lane's are shown; both are kept. */
  take(lane: Lane, piece: Piece, bytes: Uint8Array, desk: DeskLine): void {
    this.keep(lane, piece, bytes, desk);
    if (lane === 'backlog' || desk !== this.desk || piece.number <= this.lastNumber) return;
    if (piece.number !== this.lastNumber + 1 && this.lastNumber > 0) this.inTurn(() => this.splicer.gap());
    this.lastNumber = piece.number;
    const nowMs = performance.now();
    this.incoming.push({ atMs: nowMs, bytes: bytes.length });
    const time = Math.round((piece.timeUs * SAMPLE_RATE_HZ) / 1_000_000);
    if (piece.slate) this.takeSlate(piece, time);
    else {
      // What came shares its memory with what comes next.
      const kept = this.held.delayMs > 0 ? { ...piece, payload: piece.payload.slice() } : piece;
      this.inTurn((atMs: number) => {
        if (kept.track === 'sound') this.converter?.push(kept.payload, time);
        else this.takePicture(kept, time, atMs);
      }, true);
    }
  }

  /** Does it at once, or after the show's delay: in the order in which it came. */
  private inTurn(act: Held['act'], isMedia = false): void {
    const nowMs = performance.now();
    if (this.held.delayMs === 0) act(nowMs);
    else this.held.push({ act, isMedia }, nowMs);
  }

  /** What waits is what is to be kept from viewers. A change of the desk is nothing to be seen, and stays. */
  private dropHeld(): void {
    for (const { act, isMedia } of this.held.drop()) if (!isMedia) act(performance.now());
    this.splicer.gap();
  }

  /** How long everything is held back. Settled before a run: what waits is not let out of its turn. */
  setDelay(delayMs: number): void {
    if (this.held.delayMs === delayMs || this.run) return;
    for (const { act } of this.held.drop()) act(performance.now());
    this.held = new DelayLine(delayMs);
    this.log.info({ delayMs }, 'delay');
    this.house.changed();
  }

  private takeSlate(piece: Piece, time: number): void {
    if (piece.key) this.slate = [];
    this.slate.push({ time, key: piece.key, units: splitUnits(piece.payload) });
    this.splicer.useSlate({ pictures: [...this.slate] });
  }

  private newSession(hello: Hello): void {
    this.joined = hello;
    this.splicer.newSource();
    this.converter?.close();
    this.converter = new OpusToAac(
      (frame, time) => this.air(this.splicer.sound({ frame, time }, performance.now())),
      this.log,
    );
  }

  private takePicture(piece: Piece, time: number, nowMs: number): void {
    const units = splitUnits(piece.payload);
    if (piece.key) {
      const sets = findParameterSets(units);
      if (sets) this.settleFormat(sets);
    }
    this.air(this.splicer.picture({ time, key: piece.key, units }, nowMs));
  }

  private settleFormat(sets: ParameterSets): void {
    const hello = this.joined!;
    if (this.format && sameBytes(this.format.sets.sps, sets.sps)) return;
    if (this.format) this.log.warn('the picture’s parameters changed within a show');
    this.format = {
      width: hello.width,
      height: hello.height,
      sets: { sps: sets.sps.slice(), pps: sets.pps.slice() },
      soundConfig: this.house.silence.config,
      pictureKbps: hello.pictureKbps,
      soundKbps: SOUND_KBPS,
    };
  }

  private keep(lane: Lane, piece: Piece, bytes: Uint8Array, desk: DeskLine): void {
    if (!this.run) {
      desk.acknowledge(lane, piece.number);
      return;
    }
    const store = this.storeOf(piece.session);
    const copy = bytes.slice();
    void store
      .then((open) => open.add(lane, piece, copy, desk.acknowledge))
      .catch((error: unknown) => this.diskTrouble(error));
  }

  private storeOf(session: string): Promise<SessionStore> {
    let store = this.stores.get(session);
    if (!store) {
      store = SessionStore.open(this.run!.sessionDir(session), (error) => this.diskTrouble(error));
      store.catch(() => this.stores.delete(session));
      this.stores.set(session, store);
    }
    return store;
  }

  private diskTrouble(error: unknown): void {
    const bad = error !== null;
    if (bad === this.diskProblem) return;
    this.diskProblem = bad;
    if (bad) this.log.error({ err: error }, 'the disk takes no recording; feeds go on');
    else this.log.info('the disk takes the recording again');
    this.house.changed();
  }

  // --- What goes out

  /** To be called every few tens of ms. */
  tick(nowMs: number): void {
    for (const { act } of this.held.due(nowMs)) act(nowMs);
    this.air(this.splicer.tick(nowMs));
    const wallMs = Date.now();
    for (const feed of this.feeds.values()) feed.flush(wallMs);
    this.drill.tick(wallMs);
    while (this.incoming[0] && nowMs - this.incoming[0].atMs > INCOMING_MS) this.incoming.shift();
    if (nowMs - this.disk.readAtMs > DISK_EVERY_MS) void this.readDisk(nowMs);
  }

  cover(on: boolean): void {
    if (on) this.dropHeld();
    this.splicer.cover(on, performance.now());
    if (!on) this.desk?.wantKeyframe();
    this.log.info({ on }, 'cover');
    this.house.changed();
  }

  private air(spliced: readonly Spliced[]): void {
    for (const one of spliced) {
      const tag = tagOf(one);
      this.group.push(tag);
      for (const feed of this.feeds.values()) feed.push(tag);
      this.drill.push(tag);
      if (this.run) this.record(one, tag);
    }
  }

  // --- Feeds

  startFeed(destinationId: string, wish: FeedWish): void {
    let feed = this.feeds.get(destinationId);
    if (!feed) {
      feed = new Feed(destinationId, this.source, this.house.allowLocalPlaces, this.log);
      this.feeds.set(destinationId, feed);
    }
    feed.start(wish);
  }

  /** What feeds need of this programme: those of the show, and those of a drill. */
  private readonly source: FeedSource = {
    headers: (timeMs: number): readonly FlvTag[] | null => this.format && headerTags(this.format, timeMs),
    lastGroup: (): readonly ProgrammeTag[] => this.group.tags,
    changed: () => this.house.changed(),
  };

  feed(destinationId: string): Feed | undefined {
    return this.feeds.get(destinationId);
  }

  // --- The recorded run

  /** From now on everything is kept. Asked again with the same run, nothing changes. */
  beginRun(runId: string): void {
    if (this.run) return;
    const run = this.house.recordings.begin(this.showId, runId, Date.now());
    if (run.record.endedAtMs !== null) return;
    const before = run.record.aired;
    if (run.record.delayMs > 0) this.setDelay(run.record.delayMs);
    else run.change({ delayMs: this.held.delayMs });
    this.run = run;
    if (before.length > 0) {
      // Taken up after the relay's own death: the show's time went on meanwhile.
      const showMs = Date.now() - run.record.startedAtMs;
      this.zero = this.splicer.at - Math.round((showMs * SAMPLE_RATE_HZ) / 1000);
    } else this.zero = null;
    this.desk?.wantKeyframe();
    this.log.info({ run: runId }, 'run begins');
    this.house.changed();
  }

  /** Ends all feeds in good order, and the recording; its files are made in the background. */
  async end(): Promise<void> {
    for (const feed of this.feeds.values()) feed.stop();
    const { run, aired } = this;
    if (!run) return;
    this.run = null;
    this.aired = null;
    this.zero = null;
    await aired?.close();
    for (const store of this.stores.values()) await (await store.catch(() => null))?.close();
    this.stores.clear();
    run.change({ endedAtMs: Date.now() });
    this.house.recordings.finish(run);
    this.log.info({ run: run.record.runId }, 'run ended');
    this.house.changed();
  }

  private record(one: Spliced, tag: ProgrammeTag): void {
    const run = this.run!;
    if (this.zero === null) {
      if (!tag.key) return;
      this.zero = one.at;
      run.change({ startedAtMs: Date.now() });
    }
    if (one.from === 'source' && tag.key) this.noteSession(run);
    const fromMs = msOfSamples(one.at - this.zero);
    if (!this.aired) {
      if (!tag.key || !this.format) return;
      const file = `aired-${run.record.aired.length + 1}.flv`;
      this.aired = new AiredFile(path.join(run.dir, file), (error) => this.diskTrouble(error));
      this.airedFromMs = fromMs;
      const { width, height } = this.format;
      run.change({ aired: [...run.record.aired, { file, fromMs }], width, height });
      for (const header of headerTags(this.format, 0)) this.aired.write(header);
    }
    this.aired.write({ ...tag, timeMs: Math.max(0, fromMs - this.airedFromMs) });
  }
  private airedFromMs = 0;

  /** Where each session lies on the show's time is known when its first picture is joined. */
  private noteSession(run: Run): void {
    const { session } = this.joined!;
    const { sourceOffset } = this.splicer;
    if (sourceOffset === null || run.record.sessions.some((known) => known.session === session)) return;
    run.change({ sessions: [...run.record.sessions, { session, offset: sourceOffset - this.zero! }] });
  }

  // --- Report

  report(): ProgrammeReport {
    const runId = this.run?.record.runId ?? null;
    const running = runId === null ? null : { runId, writing: !this.diskProblem };
    return {
      showId: this.showId,
      state: this.splicer.state,
      deskId: this.desk?.deskId ?? null,
      runId,
      showTimeMs:
        this.run && this.zero !== null ? Math.max(0, msOfSamples(this.splicer.at - this.zero)) : null,
      delayMs: this.held.delayMs,
      isDrilled: this.drill.goesOn,
      incomingKbps: Math.round((this.incoming.reduce((sum, { bytes }) => sum + bytes, 0) * 8) / INCOMING_MS),
      loadPercent: this.house.loadPercent(),
      disk: {
        freeBytes: this.disk.freeBytes,
        recording: !this.diskProblem,
      },
      feeds: [...this.feeds.values()].map((feed) => feed.report()),
      recordings: this.house.recordings.list(this.showId, running),
    };
  }

  /** For the end of the process: nothing is ended at the places, and what was recorded is whole. */
  async close(): Promise<void> {
    for (const feed of this.feeds.values()) feed.drop();
    this.drill.close();
    this.converter?.close();
    await this.aired?.close();
    for (const store of this.stores.values()) await (await store.catch(() => null))?.close();
  }

  private async readDisk(nowMs: number): Promise<void> {
    this.disk = { ...this.disk, readAtMs: nowMs };
    const fs = await statfs(this.house.dir).catch(() => null);
    if (fs) this.disk = { freeBytes: fs.bavail * fs.bsize, readAtMs: nowMs };
  }
}

const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, i) => byte === b[i]);
