import { spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { mkdtempSync, rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
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

/**
 * UDP has no greeting that could be tried, and whoever tries to bind the port may be in the listener's way at the very
 * moment at which it wants it: the kernel's table of sockets is looked at instead.
 */
export async function listens(port: number): Promise<void> {
  for (let tries = 0; tries < 400; tries++) {
    if (await isListening(port)) return;
    await new Promise((again) => setTimeout(again, 25));
  }
  throw new Error('nobody listens for SRT');
}

export async function isListening(port: number): Promise<boolean> {
  const local = ` 0100007F:${port.toString(16).toUpperCase().padStart(4, '0')} `;
  return (await readFile('/proc/net/udp', 'utf8')).includes(local);
}

export function freeUdpPort(): Promise<number> {
  return new Promise((done) => {
    const socket = createSocket('udp4');
    socket.bind(0, '127.0.0.1', () => {
      const { port } = socket.address();
      socket.close(() => done(port));
    });
  });
}
