import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { isRunning, markOf } from '../machine/processes';
import { RunFile } from './run-record';

describe('the record of a run', () => {
  let dir: string;
  let child: ChildProcess;
  beforeEach(async () => {
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-run-'));
    const script = 'setInterval(() => {}, 1000); console.log("here")';
    child = spawn(process.execPath, ['-e', script], { stdio: ['ignore', 'pipe', 'ignore'] });
    await new Promise((here) => child.stdout!.once('data', here));
  });
  afterEach(() => {
    child.kill('SIGKILL');
    rmSync(dir, { recursive: true });
  });

  const file = () => path.join(dir, 'running.json');
  const write = (supervisor: object, children: object[]) =>
    writeFileSync(file(), JSON.stringify({ supervisor, children }));
  const gone = { pid: 1, startTicks: -1, bootId: 'x', name: 'start' };

  it('names what runs, and is gone after a good end', async () => {
    const run = new RunFile(dir);
    expect(await run.take()).toEqual([]);
    run.add(child.pid!, 'server');
    expect(readFileSync(file(), 'utf8')).toContain(`"pid":${child.pid}`);
    run.release();
    expect(existsSync(file())).toBeFalse();
  });

  it('refuses a second run while the first lives', async () => {
    write(markOf(child.pid!, 'start')!, []);
    await expectAsync(new RunFile(dir).take()).toBeRejectedWithError(/already runs on this data folder/);
    expect(isRunning(markOf(child.pid!, 'start')!)).toBeTrue();
  });

  it('ends what a killed run left, and leaves alone who only has its number', async () => {
    const left = markOf(child.pid!, 'server')!;
    write(gone, [{ ...left, startTicks: left.startTicks - 1 }]);
    expect(await new RunFile(dir).take()).toEqual([]);
    expect(isRunning(left)).toBeTrue();
    write(gone, [left]);
    expect(await new RunFile(dir).take()).toEqual(['server']);
    expect(isRunning(left)).toBeFalse();
  });

  it('that cannot be read stands in nobody’s way', async () => {
    writeFileSync(file(), '{"supervisor":');
    expect(await new RunFile(dir).take()).toEqual([]);
  });
});
