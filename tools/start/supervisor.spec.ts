import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freePort } from '../machine/ports';
import { isRunning, pause, type ProcessMark } from '../machine/processes';
import { reacts } from './liveness';
import { RunFile } from './run-record';
import { Supervisor, type Charge } from './supervisor';

/** As `answers`, and less patient. */
const answersWithin = (port: number): Promise<boolean> =>
  Promise.race([reacts(port), pause(200).then(() => false)]);

describe('supervisor', () => {
  let dir: string;
  let supervisor: Supervisor;
  let said: string[];
  beforeEach(async () => {
    dir = mkdtempSync(path.join(tmpdir(), 'juncta-watch-'));
    said = [];
    const record = new RunFile(dir);
    await record.take();
    const patience = { checkEveryMs: 50, missesAllowed: 3, startMs: 20_000 };
    supervisor = new Supervisor(dir, record, (text) => said.push(text), patience);
  });
  afterEach(async () => {
    await supervisor.end();
    rmSync(dir, { recursive: true });
  });

  /** A process that writes down that it started, and how it ended; ready once its file is there. */
  const charge = (name: string, more = ''): Charge => {
    const file = (what: string) => JSON.stringify(path.join(dir, `${name}.${what}`));
    const script = `
      const fs = require('node:fs');
      ${more}
      process.on('SIGTERM', () => { fs.appendFileSync(${JSON.stringify(path.join(dir, 'ended'))}, '${name} '); process.exit(0); });
      fs.appendFileSync(${file('started')}, 'x');
      setInterval(() => {}, 1000);`;
    return {
      name,
      start: (log) =>
        spawn(process.execPath, ['-e', script], { stdio: ['ignore', log, log], detached: true }),
      ready: async () => existsSync(path.join(dir, `${name}.started`)),
      answers: async () => true,
    };
  };
  const starts = (name: string) => readFileSync(path.join(dir, `${name}.started`), 'utf8').length;
  const children = () =>
    (JSON.parse(readFileSync(path.join(dir, 'running.json'), 'utf8')) as { children: ProcessMark[] })
      .children;
  const until = async (condition: () => boolean) => {
    while (!condition()) await pause(20);
  };

  it('ends what it started, the last first', async () => {
    await supervisor.start(charge('one'));
    await supervisor.start(charge('two'));
    const marks = children();
    await supervisor.end();
    expect(readFileSync(path.join(dir, 'ended'), 'utf8')).toBe('two one ');
    expect(marks.some(isRunning)).toBeFalse();
  });

  it('waits for the first answer as long as the process may take for it', async () => {
    const never = { ...charge('one'), ready: async () => false, startMs: 200 };
    await expectAsync(supervisor.start(never)).toBeRejectedWithError(/one did not answer within 0\.2 s/);
  });

  it('brings back what dies, says so, and writes down the new process', async () => {
    await supervisor.start(charge('one'));
    const [before] = children();
    process.kill(before!.pid, 'SIGKILL');
    await until(() => starts('one') === 2);
    await until(() => children().some(({ pid }) => pid !== before!.pid));
    expect(said.join()).toContain('The one ended (SIGKILL) and is brought back.');
    const [after] = children();
    expect(isRunning(after!)).toBeTrue();
  });

  it('replaces what hangs, and leaves alone what is slow to start', async () => {
    const port = await freePort();
    const serve = (delayMs: number) =>
      `setTimeout(() => require('node:http').createServer((_, res) => res.writeHead(503).end()).listen(${port}, '127.0.0.1'), ${delayMs});`;
    // The second of it takes long to start, as one that brings its tables up to date.
    const slow = serve(0).replace(
      '0)',
      `fs.existsSync(${JSON.stringify(path.join(dir, 'one.started'))}) ? 1500 : 0)`,
    );
    await supervisor.start({
      ...charge('one', slow),
      ready: () => reacts(port),
      answers: () => answersWithin(port),
    });
    const [before] = children();
    process.kill(before!.pid, 'SIGSTOP');
    await until(() => starts('one') === 2);
    expect(said.join()).toContain('The one does not answer any more and is replaced.');
    expect(isRunning(before!)).toBeFalse();
    while (!(await reacts(port))) await pause(20);
    expect(starts('one')).toBe(2);
    expect(said.filter((text) => text.includes('does not answer')).length).toBe(1);
  });

  it('brings nothing back once it ends', async () => {
    await supervisor.start(charge('one'));
    await supervisor.end();
    await pause(600);
    expect(starts('one')).toBe(1);
    expect(said).toEqual([]);
  });

  it('tells why a process does not come up, with the end of its log', async () => {
    const broken = charge('broken', `console.log('no key in the lock'); process.exit(3);`);
    await expectAsync(supervisor.start(broken)).toBeRejectedWithError(
      /The broken ended as soon as it was started[\s\S]*no key in the lock/,
    );
  });

  it('puts a log that has grown long aside', async () => {
    writeFileSync(path.join(dir, 'one.log'), Buffer.alloc(51 * 1024 * 1024));
    await supervisor.start(charge('one', `console.log('new');`));
    await until(() => readFileSync(path.join(dir, 'one.log'), 'utf8') === 'new\n');
    expect(existsSync(path.join(dir, 'one.log.1'))).toBeTrue();
  });
});
