import type { Recording, RecordingKind } from '@juncta/contract/relay';
import { statSync, rmSync } from 'node:fs';
import path from 'node:path';
import type { Logger } from 'pino';
import { finishAired, finishClean } from './finish';
import { recordedShows, runsOf, type Run } from './run';
import { lengthOfMp4 } from './mp4-length';

/** The recordings of all shows: lists them, and makes the finished files, one after the other. */
export class Recordings {
  private readonly queue: Run[] = [];
  private working = false;
  private readonly busy = new Set<string>();
  private readonly lengths = new Map<string, number>();

  constructor(
    private readonly root: string,
    private readonly log: Logger,
    private readonly changed: () => void,
  ) {}

  /** Takes up what an earlier life left unfinished; `stillRuns` says which runs go on. */
  takeUp(stillRuns: (runId: string) => boolean): void {
    for (const showId of recordedShows(this.root)) {
      for (const run of runsOf(this.root, showId)) {
        if (run.record.finished === null && run.record.endedAtMs !== null && !stillRuns(run.record.runId))
          this.finish(run);
      }
    }
  }

  finish(run: Run): void {
    if (this.busy.has(run.dir)) return;
    this.busy.add(run.dir);
    this.queue.push(run);
    void this.work();
  }

  list(showId: string, current: { runId: string; writing: boolean } | null): Recording[] {
    return runsOf(this.root, showId).flatMap(({ record, dir }) =>
      (['clean', 'aired'] as const).map((kind): Recording => {
        const { runId, startedAtMs } = record;
        const common = { runId, kind, startedAtMs };
        if (current?.runId === runId) {
          return { ...common, status: current.writing ? 'recording' : 'paused', bytes: null, lengthMs: null };
        }
        const name = record.finished?.[kind];
        if (name === undefined) return { ...common, status: 'finishing', bytes: null, lengthMs: null };
        const file = name && path.join(dir, name);
        const bytes = file ? statSync(file, { throwIfNoEntry: false })?.size : undefined;
        if (!file || bytes === undefined) return { ...common, status: 'failed', bytes: null, lengthMs: null };
        return { ...common, status: 'ready', bytes, lengthMs: this.lengthOf(file) };
      }),
    );
  }

  /** The finished file; null when there is none. */
  fileOf(showId: string, runId: string, kind: RecordingKind): string | null {
    const run = runsOf(this.root, showId).find(({ record }) => record.runId === runId);
    const name = run?.record.finished?.[kind];
    return run && name ? path.join(run.dir, name) : null;
  }

  private lengthOf(file: string): number {
    const known = this.lengths.get(file);
    if (known !== undefined) return known;
    const length = lengthOfMp4(file) ?? 0;
    this.lengths.set(file, length);
    return length;
  }

  private async work(): Promise<void> {
    if (this.working) return;
    this.working = true;
    for (let run = this.queue.shift(); run; run = this.queue.shift()) {
      const clean = await this.make(run, 'clean', () => finishClean(run));
      const aired = await this.make(run, 'aired', () => finishAired(run));
      run.change({ finished: { clean, aired } });
      // What the files were made from goes only when both are there.
      if (clean && aired) {
        rmSync(path.join(run.dir, 'sessions'), { recursive: true, force: true });
        for (const { file } of run.record.aired) rmSync(path.join(run.dir, file), { force: true });
      }
      this.busy.delete(run.dir);
      this.changed();
    }
    this.working = false;
  }

  private async make(run: Run, kind: RecordingKind, act: () => Promise<string>): Promise<string | null> {
    try {
      return await act();
    } catch (error) {
      this.log.error(
        { err: error, run: run.record.runId, kind },
        'a recording could not be finished; its parts are kept',
      );
      return null;
    }
  }
}
