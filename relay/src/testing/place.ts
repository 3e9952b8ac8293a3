import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { tokenAtPlace } from './place-token';

const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');

export interface Arrived {
  readonly id: string;
  readonly endedAtMs: number | null;
  readonly endedCleanly: boolean | null;
  readonly health: {
    readonly video: { codec: string; width: number; height: number } | null;
    readonly audio: { codec: string; rateHz: number; channels: number } | null;
    readonly framesPerS: number;
    readonly longestKeyframeS: number;
    readonly pictures: number;
    readonly sounds: number;
    readonly gaps: { picture: number; sound: number; longestMs: number };
    readonly notRising: number;
    readonly formatChanges: number;
  };
  /** Files as they came. */
  readonly received: string;
  readonly packets: string;
}

/** The stand-in place as a process of its own, reached over the network only. */
export interface Place {
  readonly address: string;
  key(): Promise<string>;
  arrivals(): Promise<Arrived[]>;
  /** `{}` takes every fault back. */
  faults(faults: object): Promise<void>;
  /** Breaks every connection. */
  cut(): Promise<void>;
  close(): Promise<void>;
}

export async function openPlace(): Promise<Place> {
  const [port, rtmpPort] = [await freePort(), await freePort()];
  const dir = mkdtempSync(path.join(tmpdir(), 'juncta-place-'));
  const grant = randomBytes(24).toString('base64url');
  const child = spawn(
    process.execPath,
    ['--import', 'tsx', path.join(ROOT, 'standins/src/emberplay/main.ts')],
    {
      cwd: ROOT,
      env: {
        PATH: process.env['PATH'],
        PORT: String(port),
        RTMP_PORT: String(rtmpPort),
        STANDIN_DIR: dir,
        EMBERPLAY_GRANT: grant,
      },
      stdio: 'ignore',
    },
  );
  const url = `http://127.0.0.1:${port}`;
  await until('the place answers', async () => (await fetch(`${url}/healthz`).catch(() => null))?.ok);
  const send = async (method: string, where: string, body: object, headers = {}) => {
    const init = {
      method,
      headers: { 'Content-Type': 'application/json', ...headers },
      ...(method === 'GET' ? {} : { body: JSON.stringify(body) }),
    };
    // A line that it closed while a probe held this process is opened anew.
    const response = await fetch(url + where, init).catch(() => fetch(url + where, init));
    if (!response.ok) throw new Error(`${where} answered ${response.status}`);
    return response.json();
  };
  return {
    address: `rtmp://127.0.0.1:${rtmpPort}/ember`,
    async key() {
      const token = await tokenAtPlace(url, grant);
      const ingest = await send('GET', '/v1/channel/ingest', {}, { Authorization: `Bearer ${token}` });
      return (ingest as { key: string }).key;
    },
    arrivals: async () => (await send('GET', '/console/arrivals', {})) as Arrived[],
    faults: async (faults) => {
      await send('PUT', '/console/faults', faults);
    },
    cut: async () => {
      await send('POST', '/console/cut', {});
    },
    async close() {
      const gone = new Promise((done) => child.once('exit', done));
      child.kill();
      await gone;
      rmSync(dir, { recursive: true, force: true });
    },
  };
}

const PATIENCE_MS = 45_000;

/** Waits until something holds, looking often; says what it waited for when it never did. */
export async function until<T>(
  what: string,
  look: () => T | Promise<T>,
  patienceMs = PATIENCE_MS,
): Promise<NonNullable<T>> {
  const endMs = Date.now() + patienceMs;
  for (;;) {
    const found = await look();
    if (found) return found;
    if (Date.now() > endMs) throw new Error(`waited in vain until ${what}`);
    await new Promise((again) => setTimeout(again, 30));
  }
}

export function freePort(): Promise<number> {
  return new Promise((done) => {
    const probe = createServer();
    probe.listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => done(port));
    });
  });
}
