import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { endProcesses, isRunning, markOf, type ProcessMark } from '../machine/processes';
import { Failure } from '../machine/failure';

interface RunRecord {
  readonly supervisor: ProcessMark;
  readonly children: readonly ProcessMark[];
}

const PATIENCE_MS = 8000;

/** PostgreSQL's own word for ending quickly and in good order is SIGINT; everybody else's is SIGTERM. */
export const endingSignal = (mark: { readonly name: string }): NodeJS.Signals =>
  mark.name === 'database' ? 'SIGINT' : 'SIGTERM';

/**
 * What runs on a data folder, written down in it, so that a run that was killed leaves nothing behind that the
 * next one does not find, and two runs never work on one folder.
 */
export class RunFile {
  private readonly file: string;
  private children: ProcessMark[] = [];
  private readonly supervisor = markOf(process.pid, 'start')!;

  constructor(dataDir: string) {
    this.file = path.join(dataDir, 'running.json');
  }

  /** Takes the folder: refuses while another run has it, and ends what a killed run left. Returns their names. */
  async take(): Promise<string[]> {
    const before = this.read();
    if (before && isRunning(before.supervisor)) {
      throw new Failure(
        `Juncta already runs on this data folder (process ${before.supervisor.pid}). End that run first, or name another folder with --data.`,
      );
    }
    const left = (before?.children ?? []).filter(isRunning);
    await endProcesses(left, PATIENCE_MS, endingSignal);
    this.write();
    return left.map((mark) => mark.name);
  }

  add(pid: number, name: string): ProcessMark | null {
    const mark = markOf(pid, name);
    if (mark) {
      this.children = [...this.children.filter(isRunning), mark];
      this.write();
    }
    return mark;
  }

  release(): void {
    rmSync(this.file, { force: true });
  }

  private read(): RunRecord | null {
    if (!existsSync(this.file)) return null;
    try {
      return JSON.parse(readFileSync(this.file, 'utf8')) as RunRecord;
    } catch {
      return null;
    }
  }

  private write(): void {
    const record: RunRecord = { supervisor: this.supervisor, children: this.children };
    // Written beside and renamed: a crash leaves the old record or the new one, never half of one.
    writeFileSync(`${this.file}.new`, JSON.stringify(record));
    renameSync(`${this.file}.new`, this.file);
  }
}
