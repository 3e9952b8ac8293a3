import type { ProgrammeReport } from '@juncta/contract/relay';
import type { ChildProcess } from 'node:child_process';
import { randomBytes, randomUUID } from 'node:crypto';
import path from 'node:path';
import { TestDesk, ticketFor } from '../testing/desk';
import { freePort, until } from '../testing/place';
import { ROOT, type BenchProcesses } from './bench-processes';

/** A relay of its own process with one show, told what to do as the server tells it. */
export class BenchRelay {
  readonly showId = randomUUID();
  private readonly secret = randomBytes(24).toString('hex');
  private port = 0;
  private controlPort = 0;
  /** For outside encoders. */
  ingestPort = 0;
  private child: ChildProcess | null = null;

  constructor(private readonly processes: BenchProcesses) {}

  /** Again after `kill`: at the same ports, with the same folder. */
  async start(): Promise<void> {
    if (this.port === 0) {
      [this.port, this.controlPort] = [await freePort(), await freePort()];
      this.ingestPort = await freePort();
    }
    this.child = this.processes.run(process.execPath, [path.join(ROOT, 'dist/relay.mjs')], {
      JUNCTA_RELAY_DIR: path.join(this.processes.work, 'relay'),
      JUNCTA_RELAY_PORT: String(this.port),
      JUNCTA_RELAY_CONTROL_PORT: String(this.controlPort),
      JUNCTA_RELAY_INGEST_PORT: String(this.ingestPort),
      JUNCTA_RELAY_SECRET: this.secret,
      JUNCTA_ALLOW_LOCAL_PLACES: '1',
      JUNCTA_LOG_LEVEL: 'error',
    });
    const healthz = `http://127.0.0.1:${this.controlPort}/healthz`;
    await until('the relay answers', async () => (await fetch(healthz).catch(() => null))?.ok);
  }

  kill(): void {
    this.child!.kill('SIGKILL');
  }

  get pid(): number {
    return this.child!.pid!;
  }

  /** @param showId another show than the one that it has */
  async order(
    method: string,
    where: string,
    body: object = {},
    showId: string = this.showId,
  ): Promise<ProgrammeReport> {
    const url = `http://127.0.0.1:${this.controlPort}/control/shows/${showId}${where}`;
    const response = await fetch(url, {
      method,
      headers: { Authorization: `Bearer ${this.secret}` },
      ...(method === 'GET' ? {} : { body: JSON.stringify(body) }),
    });
    return (await response.json()) as ProgrammeReport;
  }

  stateIs(wanted: string): Promise<boolean> {
    return until(`it is ${wanted}`, async () => (await this.order('GET', '')).state === wanted);
  }

  /** A desk that composes; it is welcome when this gives it back. */
  async openDesk(session: string, size: { width: number; height: number }): Promise<TestDesk> {
    const expiresAtMs = Date.now() + 24 * 3_600_000;
    const ticket = ticketFor(this.secret, { showId: this.showId, expiresAtMs });
    const desk = await TestDesk.open(this.port, ticket, session, size);
    await until('the desk is welcome', () => desk.answers[0]?.type === 'welcome');
    return desk;
  }
}
