import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Logger } from 'pino';
import { Arrival } from '../kit/arrival';
import { ChatRoom } from '../kit/chat-room';
import { Crowd } from '../kit/crowd';
import type { Sink, Verdict } from '../kit/rtmp-ingest';
import type { EncoderRules } from '../kit/stream-health';

export const TITLE_UNITS = 96;
export const BOOKING = { leastMs: 20 * 60_000, mostMs: 9 * 24 * 3_600_000 } as const;
export const DELAYS_S = { ordinary: 21, short: 8, shortest: 4 } as const;
export type Latency = keyof typeof DELAYS_S;
const RULES: EncoderRules = { maxHeight: 1080, maxFramesPerS: 60, maxKbps: 8000, keyframeS: 3 };
const APP = 'kite';
const PICTURE = 9;
/** A lost feed is waited for so long; then viewers see a gap, and the event goes on waiting. */
const PATIENCE_MS = 90_000;
const LONGEST_MS = 10 * 3_600_000;

interface Kept {
  readonly id: string;
  title: string;
  /** Null: without a slot, for now. */
  readonly starts_at: string | null;
  readonly latency: Latency;
  readonly ends_with_feed: boolean;
  readonly key: string;
  published: boolean;
  ended: boolean;
}

/** One event: booked, then fed, then published by its owner; over only when the owner says so, or by its own rule. */
export class KiteEvent {
  readonly chat = new ChatRoom();
  readonly crowd: Crowd;
  current: { arrival: Arrival; drop: (says: string) => void; timer: NodeJS.Timeout } | null = null;
  lostAtMs: number | null = null;

  constructor(
    readonly kept: Kept,
    seed: number,
  ) {
    this.crowd = new Crowd({ seed, delayS: DELAYS_S[kept.latency], most: 132 }, this.chat);
  }

  get state(): 'booked' | 'receiving' | 'public' | 'gap' | 'ended' {
    if (this.kept.ended) return 'ended';
    if (!this.kept.published) return this.current ? 'receiving' : 'booked';
    if (this.current) return 'public';
    return this.lostAtMs !== null && Date.now() - this.lostAtMs > PATIENCE_MS ? 'gap' : 'public';
  }
}

export class Events {
  private readonly events = new Map<string, KiteEvent>();
  private readonly file: string;
  private readonly arrivalsDir: string;
  arrivals: Arrival[] = [];

  constructor(
    dir: string,
    private readonly log: Logger,
  ) {
    this.file = path.join(dir, 'events.json');
    this.arrivalsDir = path.join(dir, 'arrivals');
    mkdirSync(this.arrivalsDir, { recursive: true });
    const kept = existsSync(this.file) ? (JSON.parse(readFileSync(this.file, 'utf8')) as Kept[]) : [];
    for (const one of kept) this.add(one);
  }

  find(id: string): KiteEvent | undefined {
    return this.events.get(id);
  }
  /** Newest last. */
  all(): KiteEvent[] {
    return [...this.events.values()];
  }

  make(title: string, startsAt: string | null, latency: Latency, endsWithFeed: boolean): KiteEvent {
    const event = this.add({
      id: randomBytes(6).toString('hex'),
      title,
      starts_at: startsAt,
      latency,
      ends_with_feed: endsWithFeed,
      key: `kite_${randomBytes(18).toString('base64url')}`,
      published: false,
      ended: false,
    });
    this.save();
    return event;
  }

  rename(event: KiteEvent, title: string): void {
    event.kept.title = title;
    this.save();
  }

  /** False: nothing is received yet, so there is nothing to publish. */
  publish(event: KiteEvent): boolean {
    if (event.kept.published) return true;
    if (!event.current || event.current.arrival.health.pictures === 0) return false;
    event.kept.published = true;
    this.save();
    event.crowd.see();
    return true;
  }

  end(event: KiteEvent): void {
    if (event.kept.ended) return;
    event.kept.ended = true;
    this.save();
    event.crowd.leave();
    event.current?.drop('The event has ended.');
    this.lose(event, true);
  }

  judge(app: string, key: string, drop: (says: string) => void): Verdict {
    const event = this.all().find(({ kept }) => kept.key === key);
    if (app !== APP || !event)
      return {
        ok: false,
        code: 'NetStream.Publish.BadName',
        says: 'No event of yours is waiting for this key.',
      };
    if (event.kept.ended)
      return { ok: false, code: 'NetStream.Publish.BadName', says: 'This event has ended.' };
    event.current?.drop('Another sender took over with this key.');
    this.lose(event, false);
    const id = `${Date.now()}-${this.arrivals.length + 1}`;
    const arrival = new Arrival(id, this.arrivalsDir, RULES, this.log);
    this.arrivals = [...this.arrivals.slice(-20), arrival];
    const timer = setTimeout(() => this.end(event), LONGEST_MS);
    event.current = { arrival, drop, timer };
    event.lostAtMs = null;
    this.log.info({ event: event.kept.id, arrival: id }, 'receiving');
    const sink: Sink = {
      tag: (kind, timeMs, body) => {
        if (event.current?.arrival !== arrival) return;
        arrival.take(kind, timeMs, body);
        if (kind === PICTURE && event.kept.published) event.crowd.see();
      },
      ended: (clean) => {
        if (event.current?.arrival !== arrival) return;
        this.lose(event, clean);
        if (clean && event.kept.ends_with_feed) this.end(event);
      },
    };
    return { ok: true, sink };
  }

  private lose(event: KiteEvent, clean: boolean): void {
    const { current } = event;
    if (!current) return;
    event.current = null;
    event.lostAtMs = Date.now();
    clearTimeout(current.timer);
    current.arrival.end(clean);
    this.log.info({ event: event.kept.id, clean }, 'no longer receiving');
  }

  private add(kept: Kept): KiteEvent {
    const event = new KiteEvent(kept, 2);
    this.events.set(kept.id, event);
    return event;
  }

  private save(): void {
    writeFileSync(this.file, JSON.stringify(this.all().map(({ kept }) => kept)), { mode: 0o600 });
  }
}
