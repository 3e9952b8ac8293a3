import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { freePort } from './run';

/** A place of which nothing is known but an address and a key: ffmpeg takes one stream and keeps it as it comes. */
export class PlainPlace {
  private readonly dir = mkdtempSync(path.join(tmpdir(), 'juncta-plain-'));
  readonly received = path.join(this.dir, 'received.flv');
  readonly key = 'plain-key';
  private readonly child: ChildProcess;
  /** Settles when its stream has ended, or it was closed. */
  readonly ended: Promise<void>;

  private constructor(private readonly port: number) {
    const url = `${this.address}/${this.key}`;
    this.child = spawn(
      'ffmpeg',
      ['-hide_banner', '-nostdin', '-v', 'error', '-listen', '1', '-i', url, '-c', 'copy', this.received],
      { stdio: 'ignore' },
    );
    this.ended = new Promise((done) => this.child.once('close', () => done()));
  }

  static async open(): Promise<PlainPlace> {
    return new PlainPlace(await freePort());
  }

  get address(): string {
    return `rtmp://127.0.0.1:${this.port}/live`;
  }

  async close(): Promise<void> {
    this.child.kill('SIGKILL');
    await this.ended;
    rmSync(this.dir, { recursive: true, force: true });
  }
}
