import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import type { FinishedRun } from './finish';
import type { Run } from './run';

export interface FinisherResult extends FinishedRun {
  /** The most memory that the process took, MB. */
  readonly peakMb: number;
}

/** Makes the files of a run. Rejects when that could not be done, or was broken off by the signal. */
export type Finisher = (run: Run, signal: AbortSignal) => Promise<FinisherResult>;

/** Work for nobody who waits: a show that is on air goes first. */
const NICENESS = '15';
/** Built, it lies beside the relay; in specs it is a source like any other. */
const MAIN = fileURLToPath(
  new URL(import.meta.url.endsWith('.ts') ? './finish-main.ts' : './finish-recording.mjs', import.meta.url),
);

/** In a process of its own, which ends when this one does. */
export const finishInProcess: Finisher = (run, signal) =>
  new Promise((done, failed) => {
    const child = spawn('nice', ['-n', NICENESS, process.execPath, ...process.execArgv, MAIN, run.dir], {
      env: { PATH: process.env['PATH'] },
      stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
      signal,
    });
    let says = '';
    child.stderr!.on('data', (text: Buffer) => (says = (says + String(text)).slice(-2000)));
    let result: FinisherResult | null = null;
    child.on('message', (message) => (result = message as FinisherResult));
    child.once('error', failed);
    child.once('close', (code, by) => {
      if (result) done(result);
      else failed(new Error(`the finishing process ended (${by ?? code}): ${says.trim()}`));
    });
  });
