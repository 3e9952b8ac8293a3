import { RECORDING_KINDS, type Recording, type RecordingKind } from '@juncta/contract/recordings';
import { existsSync, rmSync, statSync } from 'node:fs';
import { readdir, stat, statfs } from 'node:fs/promises';
import path from 'node:path';
import type { Logger } from 'pino';
import type { FinishedFile } from './finish';
import { finishInProcess, type Finisher } from './finisher';
import { readRuns, recordedShows, Run } from './run';
import { lengthOfMp4 } from './mp4-length';

/** How files are finished, where the room for them is looked up, and how long to wait before the next try. */
export interface FinishingHouse {
  /** Null: nobody knows. */
  freeBytes(dir: string): Promise<number | null>;
  readonly againMs: number;
  readonly finish: Finisher;
}
const HOUSE: FinishingHouse = {
  finish: finishInProcess,
  async freeBytes(dir) {
    const fs = await statfs(dir).catch(() => null);
    return fs && fs.bavail * fs.bsize;
  },
  againMs: 60_000,
};

/** The recordings of all shows: lists them, and makes the finished files, one after the other. */
export class Recordings {
  private readonly queue: Run[] = [];
  private working: Promise<void> | null = null;
  private readonly closing = new AbortController();
  private readonly busy = new Set<string>();
  private readonly later = new Set<NodeJS.Timeout>();
  /** Read from the disk once: reports are made many times a minute, and the disk may be slow. */
  private readonly known = new Map<string, Run[]>();
  private readonly files = new Map<string, { bytes: number; lengthMs: number } | null>();

  constructor(
    private readonly root: string,
    private readonly log: Logger,
    private readonly changed: () => void,
    private readonly house: FinishingHouse = HOUSE,
  ) {}

  /**
   * Makes the files of runs that have ended and were not finished by an earlier life, and of those that could not be: this
   * version may be able to. Those that go on are left.
   */
  takeUp(): void {
    for (const showId of recordedShows(this.root)) {
      for (const run of this.runsOf(showId)) {
        if (run.record.endedAtMs !== null && (run.record.finished === null || hasFailed(run)))
          this.finish(run);
      }
    }
  }

  /** The run with this id, begun now if there is none. */
  begin(showId: string, runId: string, nowMs: number): Run {
    const there = this.runsOf(showId).find(({ record }) => record.runId === runId);
    if (there) return there;
    const run = Run.begin(this.root, showId, runId, nowMs);
    this.runsOf(showId).push(run);
    return run;
  }

  /** The run that was going on when the relay last died; null when none was. */
  openRun(showId: string): Run | null {
    return this.runsOf(showId).findLast(({ record }) => record.endedAtMs === null) ?? null;
  }

  finish(run: Run): void {
    if (this.busy.has(run.dir)) return;
    this.busy.add(run.dir);
    this.queue.push(run);
    void this.work();
  }

  list(showId: string, current: { runId: string; writing: boolean } | null): Recording[] {
    return this.runsOf(showId).flatMap((run) =>
      RECORDING_KINDS.flatMap((kind): Recording | [] => {
        const { record, dir } = run;
        const { runId, startedAtMs } = record;
        const common = { runId, kind, startedAtMs, missing: record.finished?.missing ?? null };
        if (current?.runId === runId) {
          return { ...common, status: current.writing ? 'recording' : 'paused', bytes: null, lengthMs: null };
        }
        const name = record.finished?.[kind];
        // Nothing of it was composed at a desk: what went out is all there is.
        if (name === null && kind === 'programme' && record.finished?.aired && !this.isComposed(run))
          return [];
        if (name === undefined) return { ...common, status: 'finishing', bytes: null, lengthMs: null };
        const file = name ? this.fileAt(path.join(dir, name)) : null;
        if (!file) return { ...common, status: 'failed', bytes: null, lengthMs: null };
        return { ...common, status: 'ready', ...file };
      }),
    );
  }

  /** Whether a desk made anything of a run that is over: what came from outside leaves no packets. */
  private isComposed(run: Run): boolean {
    let is = this.composed.get(run.dir);
    if (is === undefined) {
      const { sessions } = run.record;
      is =
        existsSync(partsOf(run)) &&
        (sessions.length === 0 || sessions.some(({ session }) => existsSync(run.sessionDir(session))));
      this.composed.set(run.dir, is);
    }
    return is;
  }
  private readonly composed = new Map<string, boolean>();

  /** The finished file; null when there is none. */
  fileOf(showId: string, runId: string, kind: RecordingKind): string | null {
    const run = this.runsOf(showId).find(({ record }) => record.runId === runId);
    const name = run?.record.finished?.[kind];
    return run && name ? path.join(run.dir, name) : null;
  }

  private runsOf(showId: string): Run[] {
    let runs = this.known.get(showId);
    if (!runs) {
      runs = readRuns(this.root, showId);
      this.known.set(showId, runs);
    }
    return runs;
  }

  /** Size and length of a finished file, which does not change; null when it is not there. */
  private fileAt(file: string): { bytes: number; lengthMs: number } | null {
    let found = this.files.get(file);
    if (found === undefined) {
      const bytes = statSync(file, { throwIfNoEntry: false })?.size;
      found = bytes === undefined ? null : { bytes, lengthMs: lengthOfMp4(file) ?? 0 };
      this.files.set(file, found);
    }
    return found;
  }

  /** What is being finished is left: a later life takes it up from the start. */
  async close(): Promise<void> {
    this.queue.length = 0;
    this.closing.abort();
    for (const timer of this.later) clearTimeout(timer);
    await this.work();
  }

  /** One after the other; whoever asks while it works waits for the same. */
  private work(): Promise<void> {
    this.working ??= this.finishQueued().finally(() => {
      this.working = null;
      if (this.queue.length > 0) void this.work();
    });
    return this.working;
  }

  private async finishQueued(): Promise<void> {
    for (let run = this.queue.shift(); run; run = this.queue.shift()) {
      try {
        if (!this.closing.signal.aborted && (await this.hasRoom(run))) await this.finishOne(run);
        else this.finishLater(run);
      } catch (error) {
        // The disk may be full just now. Nothing of it is lost, and what is on air is not touched.
        this.log.error(
          { err: error, run: run.record.runId },
          'what became of a recording could not be written down; it is tried again',
        );
        this.finishLater(run);
      }
      this.busy.delete(run.dir);
      this.changed();
    }
  }

  /** The files are about as large as what they are made from, which stays until both are there. */
  private async hasRoom(run: Run): Promise<boolean> {
    const [needed, free] = [await bytesUnder(run.dir), await this.house.freeBytes(this.root)];
    if (free === null || free > needed) return true;
    this.log.warn(
      { run: run.record.runId, needed, free },
      'no room to finish the recordings; it is tried again',
    );
    return false;
  }

  private finishLater(run: Run): void {
    if (this.closing.signal.aborted) return;
    // Whatever else is written meanwhile, it goes on from what is there then.
    const timer = setTimeout(
      () => {
        this.later.delete(timer);
        this.finish(run);
      },
      this.house.againMs * 4 ** (this.failures.get(run.dir) ?? 0),
    );
    this.later.add(timer.unref());
  }

  private async finishOne(run: Run): Promise<void> {
    const { signal } = this.closing;
    const { runId } = run.record;
    let programme: FinishedFile, aired: FinishedFile;
    let missing: RunMissing = null;
    let peakMb: number | undefined;
    try {
      ({ programme, aired, missing, peakMb } = await this.house.finish(run, signal));
    } catch (error) {
      if (signal.aborted) return;
      programme = aired = { status: 'failed', says: error instanceof Error ? error.message : String(error) };
    }
    const failed = [programme, aired].flatMap((one) => (one.status === 'failed' ? [one.says] : []));
    if (failed.length > 0) {
      const failures = (this.failures.get(run.dir) ?? 0) + 1;
      this.failures.set(run.dir, failures);
      this.log.error(
        { run: runId, failed, tries: failures },
        'a recording could not be finished; its parts are kept',
      );
      if (failures < MOST_TRIES) this.finishLater(run);
    }
    const before = run.record.finished;
    run.change({
      finished: {
        programme: nameOf(programme) ?? before?.programme ?? null,
        aired: nameOf(aired) ?? before?.aired ?? null,
        missing: missing ?? before?.missing ?? null,
      },
    });
    this.files.clear();
    this.log.info(
      { run: runId, programme: programme.status, aired: aired.status, missing, peakMb },
      'recordings finished',
    );
    // What the files were made from goes only when nothing failed, and nothing is left in it that somebody might save:
    // packets whose place on the show's time nobody noted make no file, and are not lost for that.
    if (failed.length > 0 || (missing?.damagedBytes ?? 0) > 0) return;
    if (programme.status === 'made') rmSync(partsOf(run), { recursive: true, force: true });
    if (aired.status !== 'made') return;
    for (const { file } of run.record.aired) rmSync(path.join(run.dir, file), { force: true });
  }
  /** How often the files of a run could not be made in this life, by its folder. */
  private readonly failures = new Map<string, number>();
}

/** A file that could not be made is tried again after 4, 16 and 64 times the wait, and then by the next life. */
const MOST_TRIES = 4;

type RunMissing = NonNullable<Run['record']['finished']>['missing'];

const nameOf = (file: FinishedFile): string | null => (file.status === 'made' ? file.file : null);
const partsOf = (run: Run): string => path.join(run.dir, 'sessions');

/** Parts without their file: all that was recorded is still there. */
function hasFailed(run: Run): boolean {
  const { finished, aired } = run.record;
  if (!finished) return false;
  if (finished.programme === null && existsSync(partsOf(run))) return true;
  return finished.aired === null && aired.some(({ file }) => existsSync(path.join(run.dir, file)));
}

async function bytesUnder(dir: string): Promise<number> {
  const entries = await readdir(dir, { withFileTypes: true, recursive: true }).catch(() => []);
  let bytes = 0;
  for (const entry of entries)
    if (entry.isFile()) bytes += (await stat(path.join(entry.parentPath, entry.name))).size;
  return bytes;
}
