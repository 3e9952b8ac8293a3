import type { FeedReport, FeedRequest, RenditionReport } from '@juncta/contract/relay';
import type { Logger } from 'pino';
import { Stills } from '../media/still';
import type { Aired, ProgrammeHeads, ProgrammeSink } from '../programme/sink';
import { Renditions } from '../renditions/renditions';
import { Feed } from './feed';

/** A show's feeds, by destination, and the renditions that some of them carry. */
export class Feeds implements ProgrammeSink {
  private readonly feeds = new Map<string, Feed>();
  private readonly renditions: Renditions;
  private readonly stills = new Stills();

  constructor(
    private readonly heads: ProgrammeHeads,
    private readonly allowLocalPlaces: boolean,
    private readonly log: Logger,
  ) {
    this.renditions = new Renditions(heads, log, (name, tag) => {
      for (const feed of this.feeds.values()) if (feed.rendition === name) feed.push(tag);
    });
  }

  start(destinationId: string, request: FeedRequest): void {
    let feed = this.feeds.get(destinationId);
    if (!feed) {
      feed = new Feed(destinationId, this.heads, this.allowLocalPlaces, this.log);
      this.feeds.set(destinationId, feed);
    }
    if (feed.underWay) return;
    feed.start(request, request.rendition ? this.renditions.open(request.rendition).heads : this.heads);
  }

  /** Nothing happens where there is none. */
  stop(destinationId: string): void {
    this.feeds.get(destinationId)?.stop();
  }

  stopAll(): void {
    for (const feed of this.feeds.values()) feed.stop();
  }

  /** The last picture that was sent to a place, JPEG; null: none was. */
  async still(destinationId: string): Promise<Buffer | null> {
    const keyframe = this.feeds.get(destinationId)?.lastKeyframe;
    return keyframe ? this.stills.of(destinationId, keyframe) : null;
  }

  /** What was seen from outside. */
  seen(destinationId: string, isPublic: boolean): void {
    this.feeds.get(destinationId)?.seen(isPublic);
  }

  push(aired: Aired): void {
    for (const feed of this.feeds.values()) if (feed.rendition === null) feed.push(aired.tag);
    this.renditions.push(aired);
  }

  tick(): void {
    const nowMs = Date.now();
    const wanted = new Set<string>();
    for (const feed of this.feeds.values()) {
      feed.flush(nowMs);
      if (feed.underWay && feed.rendition !== null) wanted.add(feed.rendition);
    }
    this.renditions.keepOnly(wanted);
  }

  report(): FeedReport[] {
    return [...this.feeds.values()].map((feed) => feed.report());
  }

  reportRenditions(): RenditionReport[] {
    const whoGets = (name: string) =>
      [...this.feeds.values()]
        .filter((feed) => feed.underWay && feed.rendition === name)
        .map(({ destinationId }) => destinationId);
    return this.renditions.report(whoGets, performance.now());
  }

  close(): void {
    this.renditions.close();
    for (const feed of this.feeds.values()) feed.drop();
  }
}
