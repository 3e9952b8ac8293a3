import { type ChildProcess, spawn } from 'node:child_process';
import { closeSync, openSync, readFileSync, renameSync, statSync } from 'node:fs';
import path from 'node:path';
import type { Account } from '../machine/account';
import { Failure } from '../machine/failure';
import { endProcesses, isRunning, pause, type ProcessMark } from '../machine/processes';
import { endingSignal, type RunFile } from './run-record';

/** One process that is watched over. */
export interface Charge {
  readonly name: string;
  /** How long it may take to answer for the first time, where that is longer than for the others. */
  readonly startMs?: number;
  start(log: number): ChildProcess;
  /** Whether it can do its work: waited for at the start. */
  ready(): Promise<boolean>;
  /** Whether it answers anything, within a patience of its own. One that does not hangs, and is replaced. */
  answers(): Promise<boolean>;
}

export interface SupervisorPatience {
  /** How long after an answer the next is asked for. */
  readonly checkEveryMs: number;
  /** So many times in a row without an answer, and a process hangs. Each takes as long as its own patience. */
  readonly missesAllowed: number;
  /** One that was started anew has so long to answer for the first time. */
  readonly startMs: number;
}

/** What has answered once is brought back after this long; a process that dies again and again, ever later. */
const FIRST_RESTART_MS = 300;
const LONGEST_RESTART_MS = 15_000;
/** One that ran for this long before it died starts again as if for the first time. */
const STEADY_MS = 60_000;
/** Counted in misses and not in time: a machine that slept must not find everything hanging when it wakes. */
const PATIENCE: SupervisorPatience = { checkEveryMs: 2000, missesAllowed: 3, startMs: 60_000 };
const END_PATIENCE_MS = 12_000;
const LOG_LIMIT_BYTES = 50 * 1024 * 1024;

interface Watched {
  readonly charge: Charge;
  mark: ProcessMark | null;
  deaths: number;
  timer: NodeJS.Timeout | undefined;
  startedAt: number;
  hasAnswered: boolean;
}

/** Starts processes in order, brings back what dies, and ends them in the opposite order. */
export class Supervisor {
  private readonly watched: Watched[] = [];
  private ending = false;

  constructor(
    private readonly logDir: string,
    private readonly record: RunFile,
    private readonly say: (text: string) => void,
    private readonly patience: SupervisorPatience = PATIENCE,
  ) {}

  /** Starts a process and waits until it answers; throws with the end of its log when it does not. */
  async start(charge: Charge): Promise<void> {
    const watched: Watched = {
      charge,
      mark: null,
      deaths: 0,
      timer: undefined,
      startedAt: 0,
      hasAnswered: false,
    };
    this.watched.push(watched);
    let died = false;
    const child = this.spawn(watched, () => (died = true));
    const startMs = charge.startMs ?? this.patience.startMs;
    const until = Date.now() + startMs;
    while (!died && Date.now() < until && !this.ending) {
      if (await charge.ready()) {
        // From here on a death is an accident, to be mended.
        child.removeAllListeners('exit');
        child.on('exit', (code, signal) => this.bringBack(watched, code ?? signal));
        if (child.exitCode !== null || child.signalCode !== null) this.bringBack(watched, child.exitCode);
        void this.watchOver(watched);
        return;
      }
      await pause(50);
    }
    if (this.ending) return;
    const why = died ? 'ended as soon as it was started' : `did not answer within ${startMs / 1000} s`;
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

  /** Ends what does not answer any more, which brings it back. */
  private async watchOver(watched: Watched): Promise<void> {
    const { charge } = watched;
    let misses = 0;
    while (!this.ending) {
      await pause(this.patience.checkEveryMs);
      const { mark } = watched;
      if (this.ending || !mark || !isRunning(mark)) {
        misses = 0;
        continue;
      }
      if (await charge.answers()) {
        watched.hasAnswered = true;
        misses = 0;
        continue;
      }
      const isStarting =
        !watched.hasAnswered && Date.now() - watched.startedAt < (charge.startMs ?? this.patience.startMs);
      if (isStarting || watched.mark !== mark) continue;
      misses += 1;
      if (misses < this.patience.missesAllowed || !isRunning(mark)) continue;
      misses = 0;
      this.say(`The ${charge.name} does not answer any more and is replaced.`);
      process.kill(mark.pid, 'SIGKILL');
    }
  }

  private spawn(watched: Watched, onExit: (how: number | string | null) => void): ChildProcess {
    const { charge } = watched;
    const log = this.openLog(charge.name);
    const child = charge.start(log);
    watched.startedAt = Date.now();
    watched.hasAnswered = false;
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

/** A process of ours: one built file, its settings in the environment, a group of its own, and an account if it is given one. */
export function nodeProcess(
  file: string,
  env: NodeJS.ProcessEnv,
  log: number,
  account: Account | null = null,
): ChildProcess {
  // Of its own group, so that Ctrl-C in the terminal reaches only the supervisor, which ends all in order.
  return spawn(process.execPath, ['--enable-source-maps', file], {
    env: { PATH: process.env['PATH'], LANG: 'C.UTF-8', ...env },
    stdio: ['ignore', log, log],
    detached: true,
    ...account,
  });
}
