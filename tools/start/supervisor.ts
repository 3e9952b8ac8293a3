import { type ChildProcess, spawn } from 'node:child_process';
import { closeSync, openSync, readFileSync, renameSync, statSync } from 'node:fs';
import path from 'node:path';
import { Failure } from '../machine/failure';
import { endProcesses, isRunning, pause, type ProcessMark } from '../machine/processes';
import { endingSignal, type RunFile } from './run-record';

/** One process that is watched over. */
export interface Charge {
  readonly name: string;
  start(log: number): ChildProcess;
  /** Whether it answers. */
  ready(): Promise<boolean>;
}

/** What has answered once is brought back after so long; a process that dies again and again, ever later. */
const FIRST_RESTART_MS = 300;
const LONGEST_RESTART_MS = 15_000;
/** One that ran for so long before it died starts again as if for the first time. */
const STEADY_MS = 60_000;
/** Longer and something is wrong that waiting will not mend. */
const START_PATIENCE_MS = 60_000;
const END_PATIENCE_MS = 12_000;
const LOG_LIMIT_BYTES = 50 * 1024 * 1024;

interface Watched {
  readonly charge: Charge;
  mark: ProcessMark | null;
  deaths: number;
  timer: NodeJS.Timeout | undefined;
}

/** Starts processes in order, brings back what dies, and ends them in the opposite order. */
export class Supervisor {
  private readonly watched: Watched[] = [];
  private ending = false;

  constructor(
    private readonly logDir: string,
    private readonly record: RunFile,
    private readonly say: (text: string) => void,
  ) {}

  /** Starts a process and waits until it answers; throws with the end of its log when it does not. */
  async start(charge: Charge): Promise<void> {
    const watched: Watched = { charge, mark: null, deaths: 0, timer: undefined };
    this.watched.push(watched);
    let died = false;
    const child = this.spawn(watched, () => (died = true));
    const until = Date.now() + START_PATIENCE_MS;
    while (!died && Date.now() < until && !this.ending) {
      if (await charge.ready()) {
        // From here on a death is an accident, to be mended.
        child.removeAllListeners('exit');
        child.on('exit', (code, signal) => this.bringBack(watched, code ?? signal));
        if (child.exitCode !== null || child.signalCode !== null) this.bringBack(watched, child.exitCode);
        return;
      }
      await pause(50);
    }
    if (this.ending) return;
    const why = died
      ? 'ended as soon as it was started'
      : `did not answer within ${START_PATIENCE_MS / 1000} s`;
    throw new Failure(`The ${charge.name} ${why}. The end of its log:\n${this.logTail(charge.name)}`);
  }

  /** Kills a process, as an accident would; it is brought back. False: there is none of this name that runs. */
  kill(name: string): boolean {
    const mark = this.watched.find(({ charge }) => charge.name === name)?.mark;
    if (!mark || this.ending || !isRunning(mark)) return false;
    process.kill(mark.pid, 'SIGKILL');
    return true;
  }

  /** Ends everything, the last started first. */
  async end(): Promise<void> {
    this.ending = true;
    for (const { mark, timer } of [...this.watched].reverse()) {
      clearTimeout(timer);
      if (mark) await endProcesses([mark], END_PATIENCE_MS, endingSignal);
    }
  }

  private spawn(watched: Watched, onExit: (how: number | string | null) => void): ChildProcess {
    const { charge } = watched;
    const log = this.openLog(charge.name);
    const child = charge.start(log);
    closeSync(log);
    child.once('error', (error) => onExit(error.message));
    child.once('exit', (code, signal) => onExit(code ?? signal));
    watched.mark = child.pid === undefined ? null : this.record.add(child.pid, charge.name);
    return child;
  }

  private bringBack(watched: Watched, how: number | string | null): void {
    if (this.ending) return;
    watched.deaths += 1;
    const wait = Math.min(LONGEST_RESTART_MS, FIRST_RESTART_MS * 2 ** (watched.deaths - 1));
    const { name } = watched.charge;
    this.say(
      `The ${name} ended (${how ?? 'unknown'}) and is brought back. Its log: ${path.join(this.logDir, name)}.log`,
    );
    watched.timer = setTimeout(() => {
      const startedAt = Date.now();
      this.spawn(watched, (again) => {
        if (Date.now() - startedAt > STEADY_MS) watched.deaths = 0;
        this.bringBack(watched, again);
      });
    }, wait);
  }

  /** Appended to over restarts; one that has grown long is put aside when its process starts. */
  private openLog(name: string): number {
    const file = path.join(this.logDir, `${name}.log`);
    const size = statSync(file, { throwIfNoEntry: false })?.size ?? 0;
    if (size > LOG_LIMIT_BYTES) renameSync(file, `${file}.1`);
    return openSync(file, 'a', 0o600);
  }

  private logTail(name: string): string {
    try {
      const lines = readFileSync(path.join(this.logDir, `${name}.log`), 'utf8')
        .trimEnd()
        .split('\n');
      return lines.slice(-8).join('\n');
    } catch {
      return '(nothing was written)';
    }
  }
}

/** A process of ours: one built file, its settings in the environment, a group of its own. */
export function nodeProcess(file: string, env: NodeJS.ProcessEnv, log: number): ChildProcess {
  // Of its own group, so that Ctrl-C in the terminal reaches only the supervisor, which ends all in order.
  return spawn(process.execPath, ['--enable-source-maps', file], {
    env: { PATH: process.env['PATH'], LANG: 'C.UTF-8', ...env },
    stdio: ['ignore', log, log],
    detached: true,
  });
}
