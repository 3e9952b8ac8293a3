import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { appendFile, rename, writeFile } from 'node:fs/promises';
import type { Logger } from 'pino';

/**
 * What a drill leaves on the disk: how it stands, so that it goes on after this process has died, and beside it what
 * arrived, a line for each second and place (second of the drill, place, pictures). Written beside everything else: a
 * slow disk must hold nobody's picture up.
 */
export class DrillNotes {
  private readonly arrivals: string;
  /** One after the other. */
  private writing: Promise<void> = Promise.resolve();
  /** How it stands now, while an older state is being written; null: nothing waits. */
  private waiting: string | null = null;
  private forgotten = false;

  constructor(
    private readonly file: string,
    private readonly log: Logger,
  ) {
    this.arrivals = file.replace(/\.json$/, '.arrivals.csv');
  }

  /** Of those of an earlier drill nothing stays. */
  begin(): void {
    rmSync(this.arrivals, { force: true });
  }

  /** @param now this process is about to end: it is written before anything else is done */
  write(state: string, now: boolean): void {
    if (now) {
      writeFileSync(`${this.file}.now`, state);
      renameSync(`${this.file}.now`, this.file);
      this.waiting = null;
      return;
    }
    const first = this.waiting === null;
    this.waiting = state;
    if (first) this.then(() => this.writeWaiting());
  }

  append(lines: string): void {
    this.then(() => appendFile(this.arrivals, lines));
  }

  /** All that was to be written down is. */
  async written(): Promise<void> {
    await this.writing;
  }

  forget(): void {
    this.forgotten = true;
    this.remove();
    // What is being written just now goes after it was.
    this.then(() => Promise.resolve());
  }

  private async writeWaiting(): Promise<void> {
    const state = this.waiting;
    this.waiting = null;
    if (state === null) return;
    // Whole or not at all: this process may be ended in the middle of it.
    await writeFile(`${this.file}.new`, state);
    await rename(`${this.file}.new`, this.file);
  }

  private then(act: () => Promise<void>): void {
    this.writing = this.writing
      .then(act)
      .catch((error: unknown) => this.log.warn({ err: error }, 'the drill could not be written down'))
      .then(() => {
        if (this.forgotten) this.remove();
      });
  }

  private remove(): void {
    for (const file of [this.file, this.arrivals, `${this.file}.new`]) rmSync(file, { force: true });
  }
}
