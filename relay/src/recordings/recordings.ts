import type { Recording, RecordingKind } from '@juncta/contract/relay';
import { statSync, rmSync } from 'node:fs';
import { readdir, stat, statfs } from 'node:fs/promises';
import path from 'node:path';
import type { Logger } from 'pino';
import { countMissing, finishAired, finishClean } from './finish';
import { readRuns, recordedShows, Run } from './run';
import { lengthOfMp4 } from './mp4-length';

/** Where the room for finished files is looked up, and how long to wait for some. */
export interface RoomToFinish {
  /** Null: nobody knows. */
  freeBytes(dir: string): Promise<number | null>;
  readonly againMs: number;
}
const ROOM: RoomToFinish = {
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
    private readonly room: RoomToFinish = ROOM,
  ) {}

  /** Makes the files of runs that have ended and were not finished by an earlier life. Those that go on are left. */
  takeUp(): void {
    for (const showId of recordedShows(this.root)) {
      for (const run of this.runsOf(showId)) {
        if (run.record.finished === null && run.record.endedAtMs !== null) this.finish(run);
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
    return this.runsOf(showId).flatMap(({ record, dir }) =>
      (['clean', 'aired'] as const).map((kind): Recording => {
        const { runId, startedAtMs } = record;
        const common = { runId, kind, startedAtMs };
        if (current?.runId === runId) {
          return { ...common, status: current.writing ? 'recording' : 'paused', bytes: null, lengthMs: null };
        }
        const name = record.finished?.[kind];
        if (name === undefined) return { ...common, status: 'finishing', bytes: null, lengthMs: null };
        const file = name ? this.fileAt(path.join(dir, name)) : null;
        if (!file) return { ...common, status: 'failed', bytes: null, lengthMs: null };
        return { ...common, status: 'ready', ...file };
      }),
    );
  }

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
    const [needed, free] = [await bytesUnder(run.dir), await this.room.freeBytes(this.root)];
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
    const timer = setTimeout(() => {
      this.later.delete(timer);
      this.finish(run);
    }, this.room.againMs);
    this.later.add(timer.unref());
  }

  private async finishOne(run: Run): Promise<void> {
    const { signal } = this.closing;
    const missing = await countMissing(run).catch(() => null);
    const clean = await this.make(run, 'clean', () => finishClean(run, signal));
    const aired = await this.make(run, 'aired', () => finishAired(run, signal));
    if (signal.aborted) return;
    run.change({ finished: { clean, aired } });
    this.log.info({ run: run.record.runId, clean, aired, missing }, 'recordings finished');
    // What the files were made from goes only when both are there.
    if (!clean || !aired) return;
    rmSync(path.join(run.dir, 'sessions'), { recursive: true, force: true });
    for (const { file } of run.record.aired) rmSync(path.join(run.dir, file), { force: true });
  }

  private async make(run: Run, kind: RecordingKind, act: () => Promise<string>): Promise<string | null> {
    try {
      return await act();
    } catch (error) {
      if (this.closing.signal.aborted) return null;
      this.log.error(
        { err: error, run: run.record.runId, kind },
        'a recording could not be finished; its parts are kept',
      );
      return null;
    }
  }
}

async function bytesUnder(dir: string): Promise<number> {
  const entries = await readdir(dir, { withFileTypes: true, recursive: true }).catch(() => []);
  let bytes = 0;
  for (const entry of entries)
    if (entry.isFile()) bytes += (await stat(path.join(entry.parentPath, entry.name))).size;
  return bytes;
}
