import { DrilledRequest, DrillFaultRequest, DrillRequest } from '@juncta/contract/drill';
import { RECORDING_KINDS, type RecordingKind } from '@juncta/contract/recordings';
import {
  CoverRequest,
  DelayRequest,
  FeedRequest,
  InputsRequest,
  LeaseRequest,
  LineTestRequest,
  RoundTripsRequest,
  RunRequest,
  SeenRequest,
  TakeRequest,
  type LineTestReport,
  type RelayReport,
} from '@juncta/contract/relay';
import { createReadStream, statSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { timingSafeEqual } from 'node:crypto';
import { pipeline } from 'node:stream';
import type * as z from 'zod/mini';
import type { Logger } from 'pino';
import type { RelayedShow } from '../relayed-show';
import type { Recordings } from '../recordings/recordings';

/**
 * The server's door to the relay: see `contract/relay/control.ts`. Opened by the shared secret and by nothing else.
 */
const MAX_BODY_BYTES = 64 * 1024;
const REPORT_EVERY_MS = 1000;
/** Changes that come close together are told together. */
const GATHER_MS = 50;

export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** What the server's orders are given to. */
export interface Controlled {
  readonly log: Logger;
  readonly recordings: Recordings;
  /** A show, made when it is first asked for. */
  of(showId: string): RelayedShow;
  setEpoch(showId: string, epoch: number, isRevoked: boolean): void;
  testLine(request: LineTestRequest): Promise<LineTestReport>;
  roundTrips(addresses: readonly string[]): Promise<(number | null)[]>;
  report(): RelayReport;
}

export class Control {
  private readonly listeners = new Set<ServerResponse>();
  private readonly reporting: NodeJS.Timeout;
  private gathering: NodeJS.Timeout | undefined;

  constructor(
    private readonly relay: Controlled,
    private readonly secret: string,
  ) {
    this.reporting = setInterval(() => this.tell(), REPORT_EVERY_MS);
  }

  /** Since when a server follows, by the machine's clock; null: none does. */
  followedSinceMs: number | null = null;

  /** Everybody who follows hears of it, a moment later. */
  changed(): void {
    this.gathering ??= setTimeout(() => {
      this.gathering = undefined;
      this.tell();
    }, GATHER_MS);
  }

  close(): void {
    clearInterval(this.reporting);
    clearTimeout(this.gathering);
    for (const response of this.listeners) response.end();
  }

  async handle(req: IncomingMessage, res: ServerResponse): Promise<void> {
    try {
      this.admit(req);
      const path = (req.url ?? '').split('?')[0]!.split('/').slice(2);
      await this.route(req, res, path);
    } catch (error) {
      if (res.headersSent) {
        res.destroy();
        return;
      }
      const status = error instanceof Refused ? error.status : 500;
      if (status === 500) this.relay.log.error({ err: error }, 'control');
      json(res, status, { error: error instanceof Refused ? error.message : 'the relay could not do this' });
    }
  }

  private admit(req: IncomingMessage): void {
    const given = Buffer.from(req.headers.authorization ?? '');
    const wanted = Buffer.from(`Bearer ${this.secret}`);
    if (given.length !== wanted.length || !timingSafeEqual(given, wanted))
      throw new Refused(401, 'not the secret');
  }

  private async route(req: IncomingMessage, res: ServerResponse, path: string[]): Promise<void> {
    const { method } = req;
    const [what, showId, act, destinationId, feedAct] = path;
    if (method === 'GET' && what === 'changes') {
      this.follow(res);
      return;
    }
    if (what === 'recordings' && showId && act && destinationId) {
      this.sendRecording(req, res, showId, act, destinationId);
      return;
    }
    if (method === 'POST' && what === 'line-tests') {
      json(res, 200, await this.relay.testLine(await body(req, LineTestRequest)));
      return;
    }
    if (method === 'POST' && what === 'round-trips') {
      json(res, 200, {
        roundTripsMs: await this.relay.roundTrips((await body(req, RoundTripsRequest)).addresses),
      });
      return;
    }
    if (what !== 'shows' || !showId || !UUID.test(showId)) throw new Refused(404, 'there is no such door');
    const show = this.relay.of(showId);
    if (act === 'drill') {
      await this.orderDrill(show, `${method} ${destinationId ?? ''}`, req);
      json(res, 200, { drill: await show.drill.report() });
      return;
    }
    if (method === 'GET' && act === 'still') {
      sendStill(res, await show.inputs.still(destinationId ?? ''));
      return;
    }
    if (method === 'GET' && act === 'feeds' && feedAct === 'still') {
      sendStill(res, await show.feeds.still(destinationId ?? ''));
      return;
    }
    const doing = `${method} ${act ?? ''}${feedAct ? ` ${feedAct}` : ''}`;
    switch (doing) {
      case 'GET ':
        break;
      case 'PUT lease': {
        const { epoch, isRevoked } = await body(req, LeaseRequest);
        this.relay.setEpoch(showId, epoch, isRevoked);
        break;
      }
      case 'PUT run':
        show.beginRun((await body(req, RunRequest)).runId);
        break;
      case 'PUT delay':
        show.setDelay((await body(req, DelayRequest)).delayMs);
        break;
      case 'POST end':
        await show.end();
        break;
      case 'POST cover':
        show.programme.cover((await body(req, CoverRequest)).on);
        break;
      case 'PUT inputs':
        show.inputs.book(await body(req, InputsRequest));
        break;
      case 'POST input':
        show.inputs.take((await body(req, TakeRequest)).inputId);
        break;
      case 'POST feeds start':
        show.feeds.start(destinationId!, await body(req, FeedRequest));
        break;
      case 'POST feeds stop':
        show.feeds.stop(destinationId!);
        break;
      case 'POST feeds seen':
        show.feeds.seen(destinationId!, (await body(req, SeenRequest)).public);
        break;
      default:
        throw new Refused(404, 'there is no such door');
    }
    json(res, 200, show.report());
  }

  private async orderDrill(show: RelayedShow, doing: string, req: IncomingMessage): Promise<void> {
    const { drill } = show;
    switch (doing) {
      case 'GET ':
        return;
      case 'POST begin': {
        const request = await body(req, DrillRequest);
        // A show that runs is no rehearsal.
        return show.report().runId === null ? drill.begin(request) : undefined;
      }
      case 'POST fault': {
        const fault = await body(req, DrillFaultRequest);
        return drill.tell((one) => one.cause(fault));
      }
      case 'POST script':
        return drill.tell((one) => one.runScript());
      case 'POST publish': {
        const { destinationId } = await body(req, DrilledRequest);
        return drill.tell((one) => one.publish(destinationId));
      }
      case 'POST end':
        return drill.tell((one) => one.end());
      default:
        throw new Refused(404, 'there is no such door');
    }
  }

  private follow(res: ServerResponse): void {
    res.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' });
    this.listeners.add(res);
    this.followedSinceMs ??= Date.now();
    res.once('close', () => {
      this.listeners.delete(res);
      if (this.listeners.size === 0) this.followedSinceMs = null;
    });
    res.write(line(this.relay.report()));
  }

  private tell(): void {
    if (this.listeners.size === 0) return;
    const text = line(this.relay.report());
    for (const response of this.listeners) {
      // One that does not read is let go; it will come back and be told all.
      if (response.writableLength > 1_000_000) response.destroy();
      else response.write(text);
    }
  }

  private sendRecording(
    req: IncomingMessage,
    res: ServerResponse,
    showId: string,
    runId: string,
    kind: string,
  ): void {
    const file = isKind(kind) && UUID.test(showId) ? this.relay.recordings.fileOf(showId, runId, kind) : null;
    const size = file ? statSync(file, { throwIfNoEntry: false })?.size : undefined;
    if (!file || size === undefined) throw new Refused(404, 'there is no such recording');
    const range = rangeOf(req.headers.range, size);
    if (range === 'beyond') {
      res.writeHead(416, { 'Content-Range': `bytes */${size}` }).end();
      return;
    }
    const { from, to } = range ?? { from: 0, to: size - 1 };
    res.writeHead(range ? 206 : 200, {
      'Content-Type': 'video/mp4',
      'Content-Length': to - from + 1,
      'Accept-Ranges': 'bytes',
      ...(range ? { 'Content-Range': `bytes ${from}-${to}/${size}` } : {}),
    });
    if (req.method === 'HEAD') res.end();
    else pipeline(createReadStream(file, { start: from, end: to }), res, () => undefined);
  }
}

function sendStill(res: ServerResponse, jpeg: Buffer | null): void {
  if (!jpeg) throw new Refused(404, 'there is no picture');
  res.writeHead(200, { 'Content-Type': 'image/jpeg', 'Cache-Control': 'no-store' }).end(jpeg);
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;
const isKind = (text: string): text is RecordingKind => (RECORDING_KINDS as readonly string[]).includes(text);
const line = (report: RelayReport): string => `data: ${JSON.stringify(report)}\n\n`;

/** The bytes asked for, both ends included; null: all (RFC 9110, 14.1.2; of several ranges none). */
export function rangeOf(
  header: string | undefined,
  size: number,
): { from: number; to: number } | 'beyond' | null {
  const found = /^bytes=(\d*)-(\d*)$/.exec(header ?? '');
  if (!found || (found[1] === '' && found[2] === '')) return null;
  const from = found[1] === '' ? Math.max(0, size - Number(found[2])) : Number(found[1]);
  const to = found[1] === '' || found[2] === '' ? size - 1 : Math.min(size - 1, Number(found[2]));
  return from > to ? 'beyond' : { from, to };
}

async function body<T extends z.ZodMiniType>(req: IncomingMessage, schema: T): Promise<z.output<T>> {
  const parts: Buffer[] = [];
  let bytes = 0;
  for await (const part of req) {
    bytes += (part as Buffer).length;
    if (bytes > MAX_BODY_BYTES) throw new Refused(413, 'too long');
    parts.push(part as Buffer);
  }
  let value: unknown;
  try {
    value = JSON.parse(Buffer.concat(parts).toString('utf8') || '{}');
  } catch {
    throw new Refused(400, 'not JSON');
  }
  const parsed = schema.safeParse(value);
  if (!parsed.success)
    throw new Refused(
      400,
      parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`).join('; '),
    );
  return parsed.data;
}

function json(res: ServerResponse, status: number, value: unknown): void {
  res.writeHead(status, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' });
  res.end(JSON.stringify(value));
}
