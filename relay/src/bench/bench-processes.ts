import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');

export const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));
export const round = (value: number, digits: number) => Math.round(value * 10 ** digits) / 10 ** digits;

/** ns of CPU that all threads of a process have had. */
export function cpuNs(pid: number): number {
  return readdirSync(`/proc/${pid}/task`).reduce((sum, task) => {
    try {
      return sum + Number(readFileSync(`/proc/${pid}/task/${task}/schedstat`, 'utf8').split(' ')[0]);
    } catch {
      return sum;
    }
  }, 0);
}

/** What a bench starts and writes. None of it outlives the bench, however that ends. */
export class BenchProcesses {
  /** A folder of its own. */
  readonly work: string;
  private readonly children: ChildProcess[] = [];

  constructor(name: string) {
    this.work = mkdtempSync(path.join(tmpdir(), `juncta-bench-${name}-`));
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(1));
    process.on('exit', () => {
      for (const child of this.children) child.kill('SIGKILL');
      rmSync(this.work, { recursive: true, force: true });
    });
  }

  /** @param env beside PATH, which is all that is handed on */
  run(program: string, args: readonly string[], env: NodeJS.ProcessEnv = {}): ChildProcess {
    const child = spawn(program, args, {
      cwd: ROOT,
      env: { PATH: process.env['PATH'], ...env },
      stdio: 'ignore',
    });
    this.children.push(child);
    return child;
  }
}

/** Ends the process with what the bench printed, or with what went wrong. */
export function runBench(bench: () => Promise<object>): void {
  bench().then(
    (figures) => {
      console.log(JSON.stringify(figures));
      process.exit(0);
    },
    (error: unknown) => {
      process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
      process.exit(1);
    },
  );
}
