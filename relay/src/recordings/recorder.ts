import type { Packet } from '@juncta/core/media/packets';
import { headerTags, msOfSamples, SAMPLE_RATE_HZ } from '@juncta/core/programme';
import type { Lane } from '@juncta/core/uplink';
import { statfs } from 'node:fs/promises';
import path from 'node:path';
import type { Logger } from 'pino';
import type { Aired, JoinedStream, ProgrammeSink } from '../programme/sink';
import { SessionStore } from './session-store';
import { AiredFile } from './aired-file';
import type { Recordings } from './recordings';
import type { Run, RunRecord } from './run';

const DISK_EVERY_MS = 5000;
/** What the disk did not take of a run's own notes is tried again this often. */
const AGAIN_MS = 1000;

/**
 * A run that has ended is finished once its desk has sent nothing of what it had missed for this long: the show is often ended
 * just after a line came back.
 */
const LATE_MS = 4000;

/** What is written for a run: its own notes, what desks sent, what went out. */
type Kept = 'notes' | 'packets' | 'aired';

/** What a recorder needs of the relay around it. */
interface RecorderHouse {
  /** Of the relay: what a recording needs room for is on its disk. */
  readonly dir: string;
  readonly showId: string;
  readonly recordings: Recordings;
  readonly log: Logger;
  changed(): void;
}

/**
 * Records one programme: what its desks sent, and what went out. Whatever the disk does, nothing here throws while a show
 * runs: the recording gives way, says so, and goes on when there is room again; feeds notice nothing of it.
 */
export class Recorder implements ProgrammeSink {
  private run: Run | null = null;
  private readonly stores = new Map<string, Promise<SessionStore>>();
  /** The timeline at the run's first frame, samples; null until it has come. */
  private zero: number | null = null;
  private aired: AiredFile | null = null;
  private airedFromMs = 0;
  /** What the disk did not take when it was last asked. */
  private readonly troubles = new Set<Kept>();
  /** Runs whose notes the disk did not take yet. */
  private readonly unsaved = new Set<Run>();
  private triedAgainAtMs = -Infinity;
  /** When something came last that a desk had missed. */
  private missedAtMs = -Infinity;
  /** A run that has ended, and of which more is expected. */
  private late: { readonly run: Run; untilMs: number } | null = null;
  private free: { bytes: number | null; readAtMs: number } = { bytes: null, readAtMs: -Infinity };

  constructor(private readonly house: RecorderHouse) {
    void this.readFree(performance.now());
  }

  get runId(): string | null {
    return this.run?.record.runId ?? null;
  }

  get disk(): { readonly freeBytes: number | null; readonly recording: boolean } {
    return { freeBytes: this.free.bytes, recording: this.troubles.size === 0 };
  }

  /** The run as the list of recordings has to show it; null: none is on. */
  get current(): { readonly runId: string; readonly writing: boolean } | null {
    const { runId } = this;
    return runId === null ? null : { runId, writing: this.troubles.size === 0 };
  }

  /** @param at where the programme's timeline is, samples. Gives ms; null: no run is on, or its first frame has not come. */
  showTimeMs(at: number): number | null {
    return this.run && this.zero !== null ? Math.max(0, msOfSamples(at - this.zero)) : null;
  }

  /**
   * From now on everything is kept.
   *
   * @param delayMs how long the programme is held back
   * @param at where its timeline is, samples
   * @returns how long it is to be held back: a run that is taken up has settled it; null: this run is over
   */
  begin(runId: string, delayMs: number, at: number): number | null {
    const run = this.house.recordings.begin(this.house.showId, runId, Date.now());
    if (run.record.endedAtMs !== null) return null;
    const before = run.record;
    // Two at once are not waited for.
    this.finishLate();
    this.run = run;
    this.zero = null;
    if (before.aired.length > 0) {
      // Taken up after the relay's own death: the show's time went on meanwhile.
      const showMs = Date.now() - before.startedAtMs;
      this.zero = at - Math.round((showMs * SAMPLE_RATE_HZ) / 1000);
    }
    const settledMs = before.delayMs > 0 ? before.delayMs : delayMs;
    this.note({ delayMs: settledMs });
    this.house.log.info({ run: runId }, 'run begins');
    return settledMs;
  }

  /** What a desk sent is acknowledged once it is on the disk; without a run, at once. */
  keep(
    lane: Lane,
    packet: Packet,
    bytes: Uint8Array,
    acknowledge: (lane: Lane, number: number) => void,
  ): void {
    const run = this.run ?? this.lateRunOf(lane, packet.session);
    if (lane === 'backlog') this.missedAtMs = performance.now();
    if (!run) {
      acknowledge(lane, packet.number);
      return;
    }
    const store = this.storeOf(run, packet.session);
    const copy = bytes.slice();
    void store
      .then((open) => open.add(lane, packet, copy, acknowledge))
      .catch((error: unknown) => this.trouble('packets', error));
  }

  /** What goes out, in its order. */
  push({ frame, tag, stream, format }: Aired): void {
    const { run } = this;
    if (!run) return;
    if (this.zero === null) {
      if (!tag.key) return;
      this.zero = frame.at;
      this.note({ startedAtMs: Date.now() });
    }
    if (frame.from === 'source' && tag.key && stream) this.noteSession(run, stream, this.zero);
    const fromMs = msOfSamples(frame.at - this.zero);
    if (!this.aired) {
      if (!tag.key || !format) return;
      const file = `aired-${run.record.aired.length + 1}.flv`;
      this.aired = new AiredFile(path.join(run.dir, file), headerTags(format, 0), (error) =>
        this.trouble('aired', error),
      );
      this.airedFromMs = fromMs;
      const { width, height } = format;
      this.note({ aired: [...run.record.aired, { file, fromMs }], width, height });
    }
    this.aired.write({ ...tag, timeMs: Math.max(0, fromMs - this.airedFromMs) });
  }

  tick(nowMs: number): void {
    if (this.late && performance.now() > this.late.untilMs) this.finishLate();
    if (nowMs - this.free.readAtMs > DISK_EVERY_MS) void this.readFree(nowMs);
    if (this.unsaved.size === 0 || nowMs - this.triedAgainAtMs < AGAIN_MS) return;
    this.triedAgainAtMs = nowMs;
    for (const run of this.unsaved) this.save(run);
  }

  /** The files of the run are made in the background. */
  async end(): Promise<void> {
    const { run } = this;
    if (!run) return;
    this.note({ endedAtMs: Date.now() });
    const { aired } = this;
    this.run = null;
    this.aired = null;
    this.zero = null;
    await aired?.close();
    this.trouble('aired', null);
    this.house.log.info({ run: run.record.runId }, 'run ended');
    const untilMs = this.missedAtMs + LATE_MS;
    this.late = { run, untilMs };
    if (performance.now() > untilMs) this.finishLate();
  }

  /** The run that has ended, where a packet belongs to it that its desk had missed. */
  private lateRunOf(lane: Lane, session: string): Run | null {
    const { late } = this;
    if (!late || lane !== 'backlog') return null;
    if (!late.run.record.sessions.some((known) => known.session === session)) return null;
    late.untilMs = performance.now() + LATE_MS;
    return late.run;
  }

  /** Nothing more is expected of the run that has ended. */
  private finishLate(): void {
    const { late } = this;
    if (!late) return;
    this.late = null;
    this.finishing = this.closeStores().then(() => {
      // What is over is not waited for.
      this.trouble('packets', null);
      this.house.recordings.finish(late.run);
    });
  }
  private finishing: Promise<void> = Promise.resolve();

  /** For the end of the process: the run goes on in the next. */
  async close(): Promise<void> {
    this.finishLate();
    await this.finishing;
    await this.aired?.close();
    await this.closeStores();
    for (const run of this.unsaved) this.save(run);
  }

  private async closeStores(): Promise<void> {
    const stores = [...this.stores.values()];
    this.stores.clear();
    for (const store of stores) await (await store.catch(() => null))?.close();
  }

  private storeOf(run: Run, session: string): Promise<SessionStore> {
    let store = this.stores.get(session);
    if (!store) {
      store = SessionStore.open(run.sessionDir(session), (error) => this.trouble('packets', error));
      store.catch(() => this.stores.delete(session));
      this.stores.set(session, store);
    }
    return store;
  }

  /** Where each session lies on the show's time is known when its first frame is joined. */
  private noteSession(run: Run, { session, offset }: JoinedStream, zero: number): void {
    if (offset === null || run.record.sessions.some((known) => known.session === session)) return;
    this.note({ sessions: [...run.record.sessions, { session, offset: offset - zero }] });
  }

  private note(values: Partial<RunRecord>): void {
    const run = this.run!;
    run.record = { ...run.record, ...values };
    this.save(run);
  }

  private save(run: Run): void {
    try {
      run.save();
      this.unsaved.delete(run);
      if (this.unsaved.size === 0) this.trouble('notes', null);
    } catch (error) {
      this.unsaved.add(run);
      this.trouble('notes', error);
    }
  }

  /** On a disk that is almost full one file may still be taken and another not: well is only what is all well. */
  private trouble(of: Kept, error: unknown): void {
    const before = this.troubles.size > 0;
    if (error === null) this.troubles.delete(of);
    else this.troubles.add(of);
    const bad = this.troubles.size > 0;
    if (bad === before) return;
    if (bad) this.house.log.error({ err: error }, 'the disk takes no recording; feeds go on');
    else this.house.log.info('the disk takes the recording again');
    this.house.changed();
  }

  private async readFree(nowMs: number): Promise<void> {
    this.free = { ...this.free, readAtMs: nowMs };
    const fs = await statfs(this.house.dir).catch(() => null);
    if (fs) this.free = { bytes: fs.bavail * fs.bsize, readAtMs: nowMs };
  }
}
