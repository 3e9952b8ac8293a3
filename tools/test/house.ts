import { spawn } from 'node:child_process';
import path from 'node:path';
import { ROOT } from '../build/main';
import { Failure } from '../machine/failure';
import { endProcesses, markOf } from '../machine/processes';

/** The whole of Juncta, started by its own command as a newcomer would. */
export interface House {
  readonly url: string;
  /** From the command to its word that all is ready. */
  readonly readyAfterMs: number;
  stop(): Promise<void>;
}

const END_PATIENCE_MS = 40_000;

/** @param env beside the environment of the tests themselves */
export async function startHouse(port: number, dataDir: string, env: NodeJS.ProcessEnv = {}): Promise<House> {
  const startedAt = performance.now();
  const child = spawn(path.join(ROOT, 'start'), ['--port', String(port), '--data', dataDir], {
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, ...env },
    detached: true,
  });
  const mark = markOf(child.pid!, 'start');
  await new Promise<void>((ready, failed) => {
    child.stdout.on('data', (text) => {
      if (String(text).includes('Juncta is ready')) ready();
    });
    child.once('exit', () => failed(new Failure('./start ended before it was ready.')));
  });
  return {
    url: `http://localhost:${port}`,
    readyAfterMs: Math.round(performance.now() - startedAt),
    stop: async () => {
      if (mark) await endProcesses([mark], END_PATIENCE_MS);
    },
  };
}
