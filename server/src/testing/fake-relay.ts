import type { DrillReport } from '@juncta/contract/drill';
import type { EncodingMachine, LineTestReport, ProgrammeReport } from '@juncta/contract/relay';
import { SLOW_MACHINE } from '@juncta/core/renditions';
import type { Config } from '../config';
import { createServer, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';

/** A relay's control door without a relay behind it: does what it is told, in its own memory, and reports it. */
export class FakeRelay {
  readonly secret = 'the secret of server and relay, long enough';
  /** What it was told: `PUT run {"runId":…}`. */
  readonly heard: string[] = [];
  readonly reports = new Map<string, ProgrammeReport>();
  /** What becomes of every test of a line. */
  lineTest: LineTestReport = { outcome: 'taken', roundTripMs: 12.5, kbps: 4480, placeSays: null };
  /** By address, ms. */
  roundTrips: Record<string, number> = {};
  /** As it was last told; null: none was begun. */
  drill: DrillReport | null = null;
  machine: EncodingMachine = { cores: 1, cost: SLOW_MACHINE, isMeasured: false };
  /** Answers everything with an error. */
  broken = false;
  private server: Server | undefined;
  private port = 0;
  private readonly followers = new Set<ServerResponse>();

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** How a server reaches it. */
  get reached(): NonNullable<Config['relay']> {
    const { url, secret } = this;
    return {
      url,
      secret,
      uplinkPort: 4711,
      publicUrl: null,
      ingestPort: 4712,
      srtFirstPort: 4800,
      ingestHost: null,
    };
  }

  async open(): Promise<this> {
    this.server = createServer((req, res) => {
      let text = '';
      req.on('data', (part) => (text += String(part)));
      req.on('end', () => this.answer(req.method!, req.url!, text, req.headers.authorization, res));
    });
    await new Promise<void>((done) => this.server!.listen(this.port, '127.0.0.1', done));
    this.port = (this.server.address() as AddressInfo).port;
    return this;
  }

  async close(): Promise<void> {
    for (const follower of this.followers) follower.destroy();
    this.followers.clear();
    await new Promise((done) => {
      this.server?.close(done);
      this.server?.closeAllConnections();
    });
  }

  /** Forgets everything, as a relay that was started anew. */
  async restart(): Promise<void> {
    await this.close();
    this.reports.clear();
    this.heard.length = 0;
    await this.open();
  }

  change(showId: string, values: Partial<ProgrammeReport>): void {
    this.reports.set(showId, { ...this.of(showId), ...values });
    this.tell();
  }

  of(showId: string): ProgrammeReport {
    return (
      this.reports.get(showId) ?? {
        showId,
        state: 'waiting',
        deskId: null,
        inputId: null,
        inputs: [],
        runId: null,
        showTimeMs: null,
        delayMs: 0,
        incomingKbps: 0,
        isDrilled: false,
        silentMs: null,
        loadPercent: 3,
        disk: { freeBytes: 10 ** 12, recording: true },
        feeds: [],
        renditions: [],
        recordings: [],
      }
    );
  }

  private tell(): void {
    for (const follower of this.followers) follower.write(this.frame());
  }

  private frame(): string {
    return `data: ${JSON.stringify({ atMs: Date.now(), machine: this.machine, programmes: [...this.reports.values()] })}\n\n`;
  }

  private answer(
    method: string,
    url: string,
    text: string,
    authorization: string | undefined,
    res: ServerResponse,
  ): void {
    if (authorization !== `Bearer ${this.secret}`) return void res.writeHead(401).end();
    if (this.broken) return void res.writeHead(500).end('{}');
    if (url === '/control/changes') {
      res.writeHead(200, { 'Content-Type': 'text/event-stream' });
      this.followers.add(res);
      res.write(this.frame());
      return;
    }
    if (url.startsWith('/control/recordings/')) {
      res
        .writeHead(206, { 'Content-Type': 'video/mp4', 'Content-Range': 'bytes 0-3/9', 'Content-Length': 4 })
        .end('clip');
      return;
    }
    if (url === '/control/line-tests') {
      this.heard.push(`POST line-tests ${text}`);
      res.writeHead(200).end(JSON.stringify(this.lineTest));
      return;
    }
    if (url === '/control/round-trips') {
      const { addresses } = JSON.parse(text) as { addresses: string[] };
      const roundTripsMs = addresses.map((address) => this.roundTrips[address] ?? null);
      res.writeHead(200).end(JSON.stringify({ roundTripsMs }));
      return;
    }
    const [, , , showId, act, destinationId, feedAct] = url.split('/') as [
      string,
      string,
      string,
      string,
      string?,
      string?,
      string?,
    ];
    if (method !== 'GET') this.heard.push(`${method} ${act} ${feedAct ?? ''}${text}`);
    if (act === 'drill') {
      if (destinationId === 'begin')
        this.drill = { startedAtMs: Date.now(), endedAtMs: null, scriptEndsS: null, places: [], faults: [] };
      if (destinationId === 'end') this.drill = this.drill && { ...this.drill, endedAtMs: Date.now() };
      this.change(showId, { isDrilled: this.drill?.endedAtMs === null });
      this.heard.push(`${this.heard.pop() ?? ''} ${destinationId ?? ''}`);
      res.writeHead(200).end(JSON.stringify({ drill: this.drill }));
      return;
    }
    const report = this.of(showId);
    if (act === 'still' || feedAct === 'still') {
      res.writeHead(200, { 'Content-Type': 'image/jpeg' }).end('jpeg');
      return;
    }
    const body = JSON.parse(text || '{}') as {
      runId?: string;
      on?: boolean;
      delayMs?: number;
      inputId?: string | null;
    };
    if (act === 'input') this.change(showId, { inputId: body.inputId ?? null });
    if (act === 'run') this.change(showId, { runId: body.runId ?? null });
    if (act === 'delay') this.change(showId, { delayMs: body.delayMs ?? 0 });
    if (act === 'cover') this.change(showId, { state: body.on ? 'covered' : 'source' });
    if (act === 'end')
      this.change(showId, {
        runId: null,
        feeds: report.feeds.map((feed) => ({ ...feed, state: 'ended', reason: 'ended_by_us' })),
      });
    if (act === 'feeds' && feedAct !== 'seen') {
      const feeds = report.feeds.filter((feed) => feed.destinationId !== destinationId);
      const state = feedAct === 'start' ? 'sending' : 'ended';
      const fresh = {
        destinationId: destinationId!,
        state,
        sinceMs: Date.now(),
        attempt: 0,
        reason: null,
        placeSays: null,
        bitrateKbps: null,
        onAirMs: 0,
        leftOutFrames: 0,
        still: state === 'sending' ? 1 : null,
      } as const;
      this.change(showId, { feeds: [...feeds, fresh] });
    }
    res.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(this.of(showId)));
  }
}
