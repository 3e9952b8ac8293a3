import * as z from 'zod';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';

const Missing = z.object({ packets: z.number(), ms: z.number(), damagedBytes: z.number() });

/** Runs of an earlier version call the programme recording `clean`, as its file is named. */
function asNow(finished: unknown): unknown {
  if (typeof finished !== 'object' || finished === null || !('clean' in finished)) return finished;
  const { clean, ...others } = finished;
  return { programme: clean, ...others };
}

/**
 * A run: one show from its start to its end, as it is kept on disk.
 *
 *     <relay>/shows/<show>/<run>/run.json              what stands here
 *                               /sessions/<session>/   the packets of each composing desk
 *                               /aired-<n>.flv         what went out; a new file for each life of the relay
 *                               /programme.mp4 /aired.mp4  made of these when the show has ended
 */
const RunFile = z.object({
  runId: z.string(),
  /** By the machine's clock. */
  startedAtMs: z.number(),
  endedAtMs: z.number().nullable(),
  /** How long the programme is held back: a relay that comes back must not let out what was to wait. */
  delayMs: z.number().default(0),
  /** Where on the show's time, in samples, the 0 of each session's own clock lies; in order of the sessions. */
  sessions: z.array(z.object({ session: z.string(), offset: z.number() })),
  /** Where on the show's time, in ms, each aired file begins. */
  aired: z.array(z.object({ file: z.string(), fromMs: z.number() })),
  width: z.number(),
  height: z.number(),
  /** Set once the finished files were made, or could not be. */
  finished: z.preprocess(
    asNow,
    z
      .object({
        /** The file's name; null: there is none. */
        programme: z.string().nullable(),
        aired: z.string().nullable(),
        /** Null: nobody counted. */
        missing: Missing.nullable().default(null),
      })
      .nullable(),
  ),
});
export type RunRecord = z.infer<typeof RunFile>;

const RUN_FILE = 'run.json';

export const showDir = (root: string, showId: string): string => path.join(root, 'shows', showId);

export class Run {
  private constructor(
    readonly dir: string,
    public record: RunRecord,
  ) {}

  /** Nothing of it is on the disk before it is first changed or saved. */
  static begin(root: string, showId: string, runId: string, nowMs: number): Run {
    const dir = path.join(showDir(root, showId), runId);
    if (existsSync(path.join(dir, RUN_FILE))) return Run.read(dir);
    return new Run(dir, {
      runId,
      startedAtMs: nowMs,
      endedAtMs: null,
      delayMs: 0,
      sessions: [],
      aired: [],
      width: 0,
      height: 0,
      finished: null,
    });
  }

  static read(dir: string): Run {
    return new Run(dir, RunFile.parse(JSON.parse(readFileSync(path.join(dir, RUN_FILE), 'utf8'))));
  }

  sessionDir(session: string): string {
    return path.join(this.dir, 'sessions', session);
  }

  change(values: Partial<RunRecord>): void {
    this.record = { ...this.record, ...values };
    this.save();
  }

  /** Whole or not at all: a crash leaves the one before. Throws when the disk does not take it. */
  save(): void {
    mkdirSync(this.dir, { recursive: true, mode: 0o700 });
    const file = path.join(this.dir, RUN_FILE);
    writeFileSync(`${file}.new`, JSON.stringify(this.record, null, 1), { mode: 0o600 });
    renameSync(`${file}.new`, file);
  }
}

/** All runs of a show, the oldest first. */
export function readRuns(root: string, showId: string): Run[] {
  return foldersIn(showDir(root, showId))
    .filter((dir) => existsSync(path.join(dir, RUN_FILE)))
    .map((dir) => Run.read(dir))
    .sort((a, b) => a.record.startedAtMs - b.record.startedAtMs);
}

/** The shows that have any run. */
export function recordedShows(root: string): string[] {
  return foldersIn(path.join(root, 'shows')).map((dir) => path.basename(dir));
}

function foldersIn(dir: string): string[] {
  if (!existsSync(dir)) return [];
  return readdirSync(dir, { withFileTypes: true })
    .filter((entry) => entry.isDirectory())
    .map((entry) => path.join(dir, entry.name));
}
