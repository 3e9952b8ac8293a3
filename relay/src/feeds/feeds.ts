import type { FeedReport, FeedRequest } from '@juncta/contract/relay';
import type { Logger } from 'pino';
import type { Aired, ProgrammeHeads, ProgrammeSink } from '../programme/sink';
import { Feed } from './feed';

/** A show's feeds, by destination. */
export class Feeds implements ProgrammeSink {
  private readonly feeds = new Map<string, Feed>();

  constructor(
    private readonly heads: ProgrammeHeads,
    private readonly allowLocalPlaces: boolean,
    private readonly log: Logger,
  ) {}

  start(destinationId: string, request: FeedRequest): void {
    let feed = this.feeds.get(destinationId);
    if (!feed) {
      feed = new Feed(destinationId, this.heads, this.allowLocalPlaces, this.log);
      this.feeds.set(destinationId, feed);
    }
    feed.start(request);
  }

  /** Nothing happens where there is none. */
  stop(destinationId: string): void {
    this.feeds.get(destinationId)?.stop();
  }

  stopAll(): void {
    for (const feed of this.feeds.values()) feed.stop();
  }

  /** What was seen from outside. */
  seen(destinationId: string, isPublic: boolean): void {
    this.feeds.get(destinationId)?.seen(isPublic);
  }

  push({ tag }: Aired): void {
    for (const feed of this.feeds.values()) feed.push(tag);
  }

  tick(): void {
    const nowMs = Date.now();
    for (const feed of this.feeds.values()) feed.flush(nowMs);
  }

  report(): FeedReport[] {
    return [...this.feeds.values()].map((feed) => feed.report());
  }

  close(): void {
    for (const feed of this.feeds.values()) feed.drop();
  }
}
