import { spawn } from 'node:child_process';
import path from 'node:path';
import { ROOT } from '../build/main';
import { Failure } from '../machine/failure';
import type { Figures } from './bench';

/** A part's own bench, which knows what is inside it, as a process: it prints its figures as one line of JSON. */
export async function benchOfPart(file: string, env: NodeJS.ProcessEnv = {}): Promise<Figures> {
  const child = spawn(process.execPath, ['--import', 'tsx', path.join(ROOT, file)], {
    cwd: ROOT,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, ...env },
  });
  let out = '';
  child.stdout.on('data', (text) => (out += String(text)));
  const status = await new Promise((done) => child.on('close', done));
  if (status !== 0) throw new Failure(`${file} did not come to its end.`);
  return JSON.parse(out.trim().split('\n').at(-1)!) as Figures;
}
