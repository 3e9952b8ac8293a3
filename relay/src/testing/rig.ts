import type { ProgrammeReport } from '@juncta/contract/relay';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pino from 'pino';
import { Relay, type RunningRelay } from '../relay';
import { ticketFor } from './desk';

const SECRET = 'a secret of at least thirty-two letters';

/** A relay on a folder of its own, with its control door in hand. */
export interface Rig {
  readonly running: RunningRelay;
  readonly port: number;
  readonly dir: string;
  readonly showId: string;
  /** All that was logged. */
  readonly logged: string[];
  ticket(values?: { epoch?: number; expiresAtMs?: number; showId?: string }): string;
  order(method: string, path: string, body?: object): Promise<ProgrammeReport>;
  report(): Promise<ProgrammeReport>;
  ask(path: string, init?: RequestInit): Promise<Response>;
  close(): Promise<void>;
}

export async function openRig(
  dir = mkdtempSync(path.join(tmpdir(), 'juncta-relay-')),
  showId: string = randomUUID(),
): Promise<Rig> {
  const logged: string[] = [];
  const log = pino({ level: 'debug' }, { write: (line: string) => void logged.push(line) });
  const config = {
    dir,
    host: '127.0.0.1',
    port: 0,
    controlPort: 0,
    secret: SECRET,
    allowLocalPlaces: true,
    https: null,
    logLevel: 'debug',
  };
  const running = await Relay.start(config, log);
  const ask = (where: string, init: RequestInit = {}) =>
    fetch(`http://127.0.0.1:${running.controlPort}${where}`, {
      ...init,
      headers: { Authorization: `Bearer ${SECRET}`, ...(init.headers as Record<string, string> | undefined) },
    });
  const order = async (method: string, where: string, body: object = {}) => {
    const response = await ask(
      `/control/shows/${showId}${where}`,
      method === 'GET' ? {} : { method, body: JSON.stringify(body) },
    );
    if (!response.ok) throw new Error(`${where} answered ${response.status}: ${await response.text()}`);
    return (await response.json()) as ProgrammeReport;
  };
  return {
    running,
    port: running.port,
    dir,
    showId,
    logged,
    ticket: (values = {}) => ticketFor(SECRET, { showId, ...values }),
    order,
    report: () => order('GET', ''),
    ask,
    async close() {
      await running.close();
      rmSync(dir, { recursive: true, force: true });
    },
  };
}
