import type { ProgrammeReport } from '@juncta/contract/relay';
import type { Ticket } from '@juncta/contract/uplink';
import { SLOW_MACHINE } from '@juncta/core/renditions';
import { makeLog } from '@juncta/runtime/log';
import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { closeSync, mkdtempSync, openSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { RelayConfig } from '../config';
import { Relay, type RunningRelay } from '../relay';
import { ticketFor } from './desk';
import { until } from './place';

const SECRET = 'a secret of at least thirty-two letters';
/** A process that compiles its sources first, on a machine that is busy with something else. */
const START_PATIENCE_MS = 45_000;

/** A relay on a folder of its own, with its control door in hand. */
export interface Rig {
  readonly port: number;
  readonly dir: string;
  readonly showId: string;
  ticket(values?: Partial<Ticket>): string;
  order(method: string, path: string, body?: object): Promise<ProgrammeReport>;
  report(): Promise<ProgrammeReport>;
  ask(path: string, init?: RequestInit): Promise<Response>;
  close(): Promise<void>;
}

/** A relay within the process of the specs. */
export interface InnerRig extends Rig {
  readonly running: RunningRelay;
  /** All that was logged. */
  readonly logged: string[];
}

/** A relay as a process of its own. */
export interface ProcessRig extends Rig {
  readonly pid: number;
}

export async function openRig(
  dir = mkdtempSync(path.join(tmpdir(), 'juncta-relay-')),
  showId: string = randomUUID(),
  https: RelayConfig['https'] = null,
): Promise<InnerRig> {
  const logged: string[] = [];
  const log = makeLog('relay', 'debug', { write: (line: string) => void logged.push(line) });
  const config = {
    dir,
    host: '127.0.0.1',
    port: 0,
    controlPort: 0,
    ingestPort: 0,
    secret: SECRET,
    allowLocalPlaces: true,
    machine: { cores: 2, cost: SLOW_MACHINE, isMeasured: false },
    https,
    logLevel: 'debug',
    renewLeewayMs: 0,
  };
  const running = await Relay.start(config, log);
  return {
    ...doorsOf(dir, showId, running),
    running,
    logged,
    async close() {
      await running.close();
      rmSync(dir, { recursive: true, force: true });
    },
  };
}

/** @param logFile where its log goes, as the start command lays it out */
export async function openProcessRig(dir: string, logFile: string): Promise<ProcessRig> {
  const log = openSync(logFile, 'a');
  const main = fileURLToPath(new URL('../main.ts', import.meta.url));
  const child = spawn(process.execPath, ['--import', 'tsx', main], {
    env: {
      PATH: process.env['PATH'],
      JUNCTA_RELAY_DIR: dir,
      JUNCTA_RELAY_SECRET: SECRET,
      JUNCTA_ALLOW_LOCAL_PLACES: '1',
      JUNCTA_LOG_LEVEL: 'debug',
    },
    stdio: ['ignore', log, log],
  });
  closeSync(log);
  const ended = new Promise((done) => child.once('exit', done));
  const ports = await until(
    'the relay listens',
    () => {
      const line = readFileSync(logFile, 'utf8')
        .split('\n')
        .find((text) => text.includes('"listening"'));
      return line ? (JSON.parse(line) as { port: number; controlPort: number }) : null;
    },
    START_PATIENCE_MS,
  );
  return {
    ...doorsOf(dir, randomUUID(), ports),
    pid: child.pid!,
    async close() {
      child.kill('SIGKILL');
      await ended;
    },
  };
}

function doorsOf(
  dir: string,
  showId: string,
  { port, controlPort }: { port: number; controlPort: number },
): Omit<Rig, 'close'> {
  const ask = (where: string, init: RequestInit = {}) =>
    fetch(`http://127.0.0.1:${controlPort}${where}`, {
      ...init,
      headers: { Authorization: `Bearer ${SECRET}`, ...(init.headers as Record<string, string> | undefined) },
    });
  const order = async (method: string, where: string, body: object = {}) => {
    const init = method === 'GET' ? {} : { method, body: JSON.stringify(body) };
    const give = () => ask(`/control/shows/${showId}${where}`, init);
    // A line that it closed while a probe held this process is opened anew: every order to a show may be given twice.
    const response = await give().catch(give);
    if (!response.ok) throw new Error(`${where} answered ${response.status}: ${await response.text()}`);
    return (await response.json()) as ProgrammeReport;
  };
  return {
    port,
    dir,
    showId,
    ticket: (values = {}) => ticketFor(SECRET, { showId, ...values }),
    order,
    report: () => order('GET', ''),
    ask,
  };
}
