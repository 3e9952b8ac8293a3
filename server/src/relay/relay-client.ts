import { type DrillFaultRequest, type DrillRequest, DrillAnswer } from '@juncta/contract/drill';
import type { RecordingKind } from '@juncta/contract/recordings';
import {
  LineTestReport,
  ProgrammeReport,
  RelayReport,
  RoundTrips,
  type FeedRequest,
  type InputsRequest,
  type LineTestRequest,
} from '@juncta/contract/relay';
import { createParser } from 'eventsource-parser';
import type { Logger } from 'pino';
import { Refusal } from '../http/errors';

const PATIENCE_MS = 4000;
/** Tests of two destinations wait for one another. */
const LINE_TEST_PATIENCE_MS = 60_000;
const TRIES = 2;
const AGAIN_MS = 1000;
/** The relay reports every second. */
const SILENCE_MS = 6000;

/** The server's end of the relay's control door. */
export class RelayClient {
  constructor(
    private readonly url: string,
    private readonly secret: string,
    private readonly log: Logger,
  ) {}

  report = (showId: string) => this.ask('GET', `shows/${showId}`);
  setEpoch = (showId: string, epoch: number, isRevoked = false) =>
    this.ask('PUT', `shows/${showId}/lease`, { epoch, isRevoked });
  setDelay = (showId: string, delayS: number) =>
    this.ask('PUT', `shows/${showId}/delay`, { delayMs: delayS * 1000 });
  beginRun = (showId: string, runId: string) => this.ask('PUT', `shows/${showId}/run`, { runId });
  end = (showId: string) => this.ask('POST', `shows/${showId}/end`);
  cover = (showId: string, on: boolean) => this.ask('POST', `shows/${showId}/cover`, { on });
  bookInputs = (showId: string, request: InputsRequest) => this.ask('PUT', `shows/${showId}/inputs`, request);
  takeInput = (showId: string, inputId: string | null) =>
    this.ask('POST', `shows/${showId}/input`, { inputId });
  startFeed = (showId: string, destinationId: string, request: FeedRequest) =>
    this.ask('POST', `shows/${showId}/feeds/${destinationId}/start`, request);
  stopFeed = (showId: string, destinationId: string) =>
    this.ask('POST', `shows/${showId}/feeds/${destinationId}/stop`);
  drill = (showId: string) => this.askDrill('GET', showId, '');
  beginDrill = (showId: string, request: DrillRequest) => this.askDrill('POST', showId, '/begin', request);
  causeFault = (showId: string, fault: DrillFaultRequest) => this.askDrill('POST', showId, '/fault', fault);
  runScript = (showId: string) => this.askDrill('POST', showId, '/script');
  publishDrilled = (showId: string, destinationId: string) =>
    this.askDrill('POST', showId, '/publish', { destinationId });
  endDrill = (showId: string) => this.askDrill('POST', showId, '/end');

  seen = (showId: string, destinationId: string, isPublic: boolean) =>
    this.ask('POST', `shows/${showId}/feeds/${destinationId}/seen`, { public: isPublic });

  /** Once: a fault that is caused twice is two. */
  private async askDrill(
    method: string,
    showId: string,
    what: string,
    body: unknown = {},
  ): Promise<DrillAnswer> {
    return DrillAnswer.parse(await this.askOnce(method, `shows/${showId}/drill${what}`, body, PATIENCE_MS));
  }

  /** Never given twice by itself: a place would see two. */
  async testLine(request: LineTestRequest): Promise<LineTestReport> {
    return LineTestReport.parse(await this.askOnce('POST', 'line-tests', request, LINE_TEST_PATIENCE_MS));
  }

  async roundTrips(addresses: readonly string[]): Promise<readonly (number | null)[]> {
    return RoundTrips.parse(await this.askOnce('POST', 'round-trips', { addresses }, PATIENCE_MS))
      .roundTripsMs;
  }

  /** The last picture of what comes in, JPEG; null: there is none. */
  still = (showId: string, inputId: string) => this.picture(`shows/${showId}/still/${inputId}`);

  /** The last picture of what was sent to a place, JPEG; null: there is none. */
  feedStill = (showId: string, destinationId: string) =>
    this.picture(`shows/${showId}/feeds/${destinationId}/still`);

  private async picture(path: string): Promise<Buffer | null> {
    const url = new URL(`/control/${path}`, this.url);
    const headers = { Authorization: `Bearer ${this.secret}` };
    const response = await fetch(url, { headers, signal: AbortSignal.timeout(PATIENCE_MS) }).catch(() => {
      throw relayAway();
    });
    return response.ok ? Buffer.from(await response.arrayBuffer()) : null;
  }

  /** A finished recording, or the part of it that `range` names; the relay's own answer. */
  async recording(
    showId: string,
    runId: string,
    kind: RecordingKind,
    range: string | undefined,
  ): Promise<Response> {
    const url = new URL(`/control/recordings/${showId}/${runId}/${kind}`, this.url);
    const headers = { Authorization: `Bearer ${this.secret}`, ...(range ? { Range: range } : {}) };
    return fetch(url, { headers }).catch(() => {
      throw relayAway();
    });
  }

  /** Follows the relay's reports until `stopped`, over all breaks. */
  async follow(
    stopped: AbortSignal,
    handle: { connected(): void; report(report: RelayReport): void; lost(): void },
  ): Promise<void> {
    while (!stopped.aborted) {
      try {
        await this.readReports(stopped, handle);
      } catch (error) {
        if (!stopped.aborted)
          this.log.warn(
            { why: error instanceof Error ? error.message : 'unknown' },
            'the relay does not answer',
          );
      }
      if (stopped.aborted) return;
      handle.lost();
      await new Promise((again) => setTimeout(again, AGAIN_MS));
    }
  }

  private async readReports(
    stopped: AbortSignal,
    handle: { connected(): void; report(report: RelayReport): void },
  ): Promise<void> {
    const silent = new AbortController();
    let timer = setTimeout(() => silent.abort(), SILENCE_MS);
    try {
      const response = await fetch(new URL('/control/changes', this.url), {
        headers: { Authorization: `Bearer ${this.secret}` },
        signal: AbortSignal.any([stopped, silent.signal]),
      });
      if (!response.ok || !response.body) throw new Error(`answered ${response.status}`);
      handle.connected();
      const parser = createParser({
        onEvent: ({ data }) => handle.report(RelayReport.parse(JSON.parse(data))),
      });
      const decoder = new TextDecoder();
      for await (const chunk of response.body) {
        clearTimeout(timer);
        timer = setTimeout(() => silent.abort(), SILENCE_MS);
        parser.feed(decoder.decode(chunk as Uint8Array, { stream: true }));
      }
    } finally {
      clearTimeout(timer);
    }
  }

  /** Every order may be given twice. */
  private async ask(method: string, path: string, body: unknown = {}): Promise<ProgrammeReport> {
    for (let left = TRIES - 1; ; left--) {
      try {
        return ProgrammeReport.parse(await this.askOnce(method, path, body, PATIENCE_MS));
      } catch (error) {
        if (left === 0) throw error;
      }
    }
  }

  private async askOnce(method: string, path: string, body: unknown, patienceMs: number): Promise<unknown> {
    try {
      const response = await fetch(new URL(`/control/${path}`, this.url), {
        method,
        headers: { Authorization: `Bearer ${this.secret}`, 'Content-Type': 'application/json' },
        ...(method === 'GET' ? {} : { body: JSON.stringify(body) }),
        signal: AbortSignal.timeout(patienceMs),
      });
      if (!response.ok) throw new Error(`the relay answered ${response.status}: ${await response.text()}`);
      return await response.json();
    } catch (error) {
      this.log.error({ err: error }, 'the relay did not take an order');
      throw relayAway();
    }
  }
}

export const relayAway = () =>
  new Refusal(
    'relay_away',
    'The relay does not answer just now, so nothing was changed. It is brought back by itself; try again in a few seconds.',
    {
      retryAfterS: 3,
    },
  );
