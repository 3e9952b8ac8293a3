import { spawn, type ChildProcess } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';

const START = path.resolve(import.meta.dirname, '../../start');

/** One run of the start command. */
export class Run {
  readonly child: ChildProcess;
  output = '';
  readonly ended: Promise<number | NodeJS.Signals>;
  private changed = () => {};

  /** @param env beside the environment of the tests themselves */
  constructor(args: readonly string[], env: NodeJS.ProcessEnv = {}) {
    this.child = spawn(START, args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      cwd: tmpdir(),
      env: { ...process.env, ...env },
    });
    for (const stream of [this.child.stdout!, this.child.stderr!]) {
      stream.on('data', (data) => {
        this.output += String(data);
        this.changed();
      });
    }
    this.ended = new Promise((done) =>
      this.child.on('close', (code, signal) => {
        done(code ?? signal!);
        this.changed();
      }),
    );
  }

  async says(words: string): Promise<void> {
    while (!this.output.includes(words)) {
      if (this.child.exitCode !== null) throw new Error(`ended without saying "${words}":\n${this.output}`);
      await new Promise<void>((done) => (this.changed = done));
    }
  }
}

/** Below the ports of outgoing connections, any of which could take it before the house listens there. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = 30_000 + randomInt(2000);
    const server = createServer();
    const free = await new Promise<boolean>((done) => {
      server.once('error', () => done(false));
      server.listen(port, '127.0.0.1', () => done(true));
    });
    await new Promise((done) => server.close(done));
    if (free) return port;
  }
}
