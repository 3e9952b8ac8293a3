import type { FeedReport, FeedRequest } from '@juncta/contract/relay';
import {
  FEED_OFF,
  FeedQueue,
  isUnderWay,
  nextFeed,
  type Feed as FeedStateRecord,
  type FeedEffect,
  type FeedEvent,
} from '@juncta/core/feeds';
import type { ProgrammeTag } from '@juncta/core/programme';
import { backoff } from '@juncta/core/retry';
import type { Logger } from 'pino';
import { isConfigurationOfVideo, keyframeOf, type Keyframe } from '../media/still';
import type { ProgrammeHeads } from '../programme/sink';
import type { ConnectionEvent, FeedConnection } from './connection';
import { renditionName } from '../renditions/renditions';
import { openConnection, readFeedAddress } from './open-connection';
import { AddressRefused, resolveOutgoing } from './outgoing';

const POLICY = backoff({ firstMs: 400, longestMs: 15_000, attempts: 60, random: Math.random });
/** Bitrate is told over so long. */
const MEASURED_MS = 3000;
const MEASURE_EVERY_MS = 200;

/** One stream to one destination: drives the feed machine, and minds nobody else's trouble. */
export class Feed {
  private feed: FeedStateRecord = FEED_OFF;
  private sinceMs = Date.now();
  private onAirSinceMs: number | null = null;
  private placeSays: string | null = null;
  private request: FeedRequest | null = null;
  /** What it carries: the programme, or a rendition of it. */
  private carried: ProgrammeHeads;
  private connection: FeedConnection | null = null;
  /** Whether the programme goes into the connection. */
  private carrying = false;
  /** ms of the programme at which this feed's own time is 0; null until it has begun. */
  private zeroMs: number | null = null;
  private queue = new FeedQueue();
  private retry: NodeJS.Timeout | undefined;
  private dialling = 0;
  private measured: { atMs: number; bytes: number }[] = [];
  /** The last keyframe that was handed to the connection, and how many there were. */
  private sent: { readonly tag: ProgrammeTag; readonly number: number } | null = null;

  constructor(
    readonly destinationId: string,
    private readonly programme: ProgrammeHeads,
    private readonly allowLocalPlaces: boolean,
    private readonly log: Logger,
  ) {
    this.carried = programme;
  }

  get underWay(): boolean {
    return isUnderWay(this.feed.state);
  }

  /** The rendition that it carries, by its name; null: the programme itself. */
  get rendition(): string | null {
    const { rendition } = this.request ?? {};
    return rendition ? renditionName(rendition) : null;
  }

  /** @param carried the programme, or the rendition that the request names */
  start(request: FeedRequest, carried = this.programme): void {
    if (this.underWay) return;
    this.request = request;
    this.carried = carried;
    this.placeSays = null;
    this.onAirSinceMs = null;
    this.sent = null;
    this.queue = new FeedQueue();
    this.handle({ type: 'start' });
  }

  stop(): void {
    this.handle({ type: 'stop' });
  }

  seen(isPublic: boolean): void {
    this.handle({ type: 'seen', public: isPublic });
  }

  /** A tag of what it carries, in order. */
  push(tag: ProgrammeTag): void {
    if (!this.carrying) return;
    if (this.zeroMs === null) {
      this.begin();
      return;
    }
    // Seconds that come in one burst, after this process was held up, are no trouble of the place's: it has room for them.
    if (this.connection && this.queue.isFullWith(tag)) this.send(this.connection);
    this.queue.push(tag);
  }

  /** Sends what waits, as far as the place takes it. To be called every few tens of ms. */
  flush(nowMs: number): void {
    const { connection } = this;
    if (!connection || !this.carrying) return;
    this.send(connection);
    connection.watch(nowMs);
    const last = this.measured.at(-1);
    if (last && nowMs - last.atMs < MEASURE_EVERY_MS) return;
    this.measured.push({ atMs: nowMs, bytes: connection.sentBytes });
    while (this.measured.length > 2 && nowMs - this.measured[1]!.atMs > MEASURED_MS) this.measured.shift();
  }

  /** As much of what waits as the place has room for. */
  private send(connection: FeedConnection): void {
    const { room } = connection;
    if (room === 0 || this.queue.length === 0) return;
    const tags = this.queue.take(room);
    connection.send(tags, this.zeroMs ?? 0);
    const tag = tags.findLast(({ key }) => key);
    if (tag) this.sent = { tag, number: (this.sent?.number ?? 0) + 1 };
  }

  report(): FeedReport {
    return {
      destinationId: this.destinationId,
      state: this.feed.state,
      sinceMs: this.sinceMs,
      attempt: this.feed.attempt,
      reason: this.feed.reason,
      placeSays: this.placeSays,
      bitrateKbps: this.bitrateKbps(),
      onAirMs:
        this.onAirSinceMs === null ? null : (this.underWay ? Date.now() : this.sinceMs) - this.onAirSinceMs,
      leftOutFrames: this.queue.leftOut.videoFrames,
      still: this.sent?.number ?? null,
    };
  }

  /** The last picture of what really was sent; null: none was. */
  get lastKeyframe(): Keyframe | null {
    const configuration = this.carried.headers(0)?.find(isConfigurationOfVideo);
    return this.sent && configuration ? keyframeOf(configuration, this.sent.tag, this.sent.number) : null;
  }

  /** As if the line had broken: for when the process ends. Places that end with the feed must not be told that it is over. */
  drop(): void {
    clearTimeout(this.retry);
    this.connection?.hangUp(false);
  }

  /** The configuration and the last group of pictures, so that the place has a frame at once. */
  private begin(): void {
    const group = this.carried.lastGroup();
    const first = group[0];
    const headers = first && this.carried.headers(0);
    if (!first || !headers) return;
    this.zeroMs = first.timeMs;
    this.connection?.send(headers, 0);
    for (const tag of group) this.queue.push(tag);
  }

  private handle(event: FeedEvent): void {
    const before = this.feed.state;
    const { feed, effects } = nextFeed(this.feed, event, POLICY);
    this.feed = feed;
    if (feed.state !== before) {
      this.sinceMs = Date.now();
      if (feed.state === 'sending' || feed.state === 'on_air') this.onAirSinceMs ??= this.sinceMs;
      this.log.info(
        { destination: this.destinationId, from: before, to: feed.state, reason: feed.reason },
        'feed',
      );
    }
    for (const effect of effects) this.carryOut(effect);
    this.programme.changed();
  }

  private carryOut(effect: FeedEffect): void {
    switch (effect.type) {
      case 'dial':
        void this.dial();
        break;
      case 'retry_in':
        clearTimeout(this.retry);
        this.retry = setTimeout(() => this.handle({ type: 'retry_due' }), effect.delayMs);
        break;
      case 'hang_up':
        clearTimeout(this.retry);
        this.dialling += 1;
        this.connection?.hangUp(effect.clean);
        this.connection = null;
        this.stopCarrying();
        break;
      case 'look':
        // Looking from outside is the server's: it knows the places. It hears of the new state at once.
        break;
    }
  }

  private async dial(): Promise<void> {
    const turn = ++this.dialling;
    const request = this.request!;
    // A door that did not answer is not the first to be tried again.
    const door =
      request.backup !== undefined && this.feed.attempt % 2 === 0 ? request.backup : request.address;
    const address = readFeedAddress(door);
    if (!address) {
      this.placeSays = 'The server address is not one of RTMP or SRT.';
      this.handle({ type: 'refused', reason: 'refused_other' });
      return;
    }
    try {
      const ip = await resolveOutgoing(address.where.host, this.allowLocalPlaces);
      if (turn !== this.dialling) return;
      this.connection = openConnection(address, request.key, ip, (event) => {
        if (turn === this.dialling) this.take(event, request);
      });
    } catch (error) {
      if (turn !== this.dialling) return;
      this.placeSays = error instanceof AddressRefused ? error.message : null;
      this.handle({ type: 'lost', reason: 'no_answer' });
    }
  }

  private take(event: ConnectionEvent, request: FeedRequest): void {
    switch (event.type) {
      case 'wants_programme':
        this.carry();
        break;
      case 'publishing':
        this.placeSays = null;
        if (!this.carrying) this.carry();
        this.handle({ type: 'accepted', arrival: request.arrival });
        break;
      case 'refused':
        this.placeSays = event.placeSays;
        this.stopCarrying();
        this.handle({ type: 'refused', reason: event.reason });
        break;
      case 'ended_there':
        this.placeSays = event.placeSays;
        this.stopCarrying();
        this.handle({ type: 'ended_there' });
        break;
      case 'lost':
        this.log.info({ destination: this.destinationId, why: event.why }, 'feed lost');
        this.stopCarrying();
        this.handle({ type: 'lost', reason: event.reason });
        break;
      case 'acknowledged':
        break;
    }
  }

  private carry(): void {
    this.carrying = true;
    this.measured = [];
    this.begin();
  }

  private stopCarrying(): void {
    this.carrying = false;
    this.zeroMs = null;
    this.queue.clear();
    this.measured = [];
  }

  private bitrateKbps(): number | null {
    const [first, last] = [this.measured[0], this.measured.at(-1)];
    if (!this.carrying || !first || !last || last.atMs - first.atMs < 500) return null;
    return Math.round(((last.bytes - first.bytes) * 8) / (last.atMs - first.atMs));
  }
}
