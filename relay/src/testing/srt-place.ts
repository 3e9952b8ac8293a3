import { spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

/** Somebody who listens for one SRT stream and keeps what comes, as it comes. */
export interface SrtPlace {
  readonly port: number;
  /** What came, as MPEG-TS. */
  readonly received: string;
  /** Settles when the stream has ended, or nobody came. */
  readonly over: Promise<void>;
  close(): Promise<void>;
}

export async function openSrtPlace(passphrase = '', port?: number): Promise<SrtPlace> {
  const at = port ?? (await freeUdpPort());
  const dir = mkdtempSync(path.join(tmpdir(), 'juncta-srt-'));
  const received = path.join(dir, 'received.ts');
  const options = new URLSearchParams({ mode: 'listener', listen_timeout: '30000000' });
  if (passphrase !== '') options.set('passphrase', passphrase);
  const child = spawn(
    'ffmpeg',
    [
      '-nostdin',
      '-loglevel',
      'error',
      '-i',
      `srt://127.0.0.1:${at}?${options.toString()}`,
      '-c',
      'copy',
      '-y',
      received,
    ],
    { stdio: 'ignore' },
  );
  const over = new Promise<void>((done) => child.once('close', () => done()));
  await listens(at);
  return {
    port: at,
    received,
    over,
    async close() {
      child.kill('SIGKILL');
      await over;
      rmSync(dir, { recursive: true, force: true });
    },
  };
}

/** UDP has no greeting that could be tried: the port is taken as soon as somebody listens. */
async function listens(port: number): Promise<void> {
  for (let tries = 0; tries < 200; tries++) {
    if (await isTaken(port)) return;
    await new Promise((again) => setTimeout(again, 25));
  }
  throw new Error('nobody listens for SRT');
}

function isTaken(port: number): Promise<boolean> {
  return new Promise((done) => {
    const socket = createSocket('udp4');
    socket.once('error', () => done(true));
    socket.bind(port, '127.0.0.1', () => socket.close(() => done(false)));
  });
}

function freeUdpPort(): Promise<number> {
  return new Promise((done) => {
    const socket = createSocket('udp4');
    socket.bind(0, '127.0.0.1', () => {
      const { port } = socket.address();
      socket.close(() => done(port));
    });
  });
}
