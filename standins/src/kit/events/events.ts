import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Logger } from 'pino';
import { Arrival } from '../ingest/arrival';
import { ChatRoom } from '../chat/chat-room';
import { Crowd, type Aside } from '../chat/crowd';
import type { KeptPicture } from './picture';
import type { Sink, Verdict } from '../ingest/rtmp-ingest';
import type { EncoderRules } from '../ingest/stream-health';

/** What a place that has events does with them. Places differ in this, and in how they say it. */
export interface EventRules {
  /** The application of its ingest addresses. */
  readonly app: string;
  readonly encoder: EncoderRules;
  readonly goesPublic: 'by_api' | 'from_slot';
  /** No picture by then: the event is thrown away. Null: it is waited for. */
  readonly lapseMs: number | null;
  /** A lost feed is waited for this long, … */
  readonly patienceMs: number;
  /** … and then this. */
  readonly afterPatience: 'gap' | 'ends';
  readonly cleanEnd: 'ends' | 'option' | 'waits';
  readonly secondSender: 'newer_wins' | 'refused';
  readonly longestMs: number;
  readonly crowd: { readonly seed: number; readonly most: number; readonly aside?: readonly Aside[] };
  delayS(event: EventText): number;
}

export interface EventText {
  title: string;
  description: string;
  /** Null: without a slot, for now. */
  startsAt: string | null;
  settings: Record<string, unknown>;
}

export interface KeptEvent extends EventText {
  readonly id: string;
  readonly account: string;
  readonly placement: string;
  /** Given by whoever made it, so that an answer that was lost can be asked for again. */
  readonly reference: string | null;
  readonly key: string;
  picture: KeptPicture | null;
  published: boolean;
  ended: boolean;
  lapsed: boolean;
}

const PICTURE = 9;

export type EventState = 'booked' | 'receiving' | 'public' | 'gap' | 'ended' | 'lapsed';

export class PlaceEvent {
  readonly chat = new ChatRoom();
  readonly crowd: Crowd;
  current: { arrival: Arrival; drop: (says: string) => void; timer: NodeJS.Timeout } | null = null;
  lostAtMs: number | null = null;

  constructor(
    readonly kept: KeptEvent,
    private readonly rules: EventRules,
  ) {
    this.crowd = new Crowd({ ...rules.crowd, delayS: () => rules.delayS(kept) }, this.chat);
  }

  get state(): EventState {
    if (this.kept.ended) return 'ended';
    if (this.kept.lapsed) return 'lapsed';
    if (!this.kept.published) return this.current ? 'receiving' : 'booked';
    if (this.current) return 'public';
    return this.lostAtMs !== null && Date.now() - this.lostAtMs > this.rules.patienceMs ? 'gap' : 'public';
  }
}

/** The events of a place, and what arrives for them. Kept over restarts. */
export class Events {
  private readonly events = new Map<string, PlaceEvent>();
  private readonly file: string;
  private readonly arrivalsDir: string;
  private readonly picturesDir: string;
  arrivals: Arrival[] = [];

  /** @param nowMs the time that slots go by: a rehearsal may have moved it */
  constructor(
    dir: string,
    private readonly rules: EventRules,
    private readonly nowMs: () => number,
    private readonly log: Logger,
  ) {
    this.file = path.join(dir, 'events.json');
    this.arrivalsDir = path.join(dir, 'arrivals');
    this.picturesDir = path.join(dir, 'pictures');
    for (const made of [this.arrivalsDir, this.picturesDir]) mkdirSync(made, { recursive: true });
    const kept = existsSync(this.file) ? (JSON.parse(readFileSync(this.file, 'utf8')) as KeptEvent[]) : [];
    for (const one of kept) this.add(one);
  }

  find(id: string): PlaceEvent | undefined {
    return this.events.get(id);
  }
  /** Newest last. */
  all(): PlaceEvent[] {
    return [...this.events.values()];
  }

  make(text: EventText, where: { account: string; placement: string; reference: string | null }): PlaceEvent {
    const event = this.add({
      ...text,
      ...where,
      id: randomBytes(6).toString('hex'),
      key: `${this.rules.app}_${randomBytes(18).toString('base64url')}`,
      picture: null,
      published: false,
      ended: false,
      lapsed: false,
    });
    this.save();
    return event;
  }

  givePicture(event: PlaceEvent, picture: KeptPicture, file: Buffer): void {
    writeFileSync(this.pictureFile(event), file);
    event.kept.picture = picture;
    this.save();
  }

  pictureFile(event: PlaceEvent): string {
    return path.join(this.picturesDir, event.kept.id);
  }

  change(event: PlaceEvent, values: Partial<EventText>): void {
    const { settings, ...text } = values;
    Object.assign(event.kept, text);
    Object.assign(event.kept.settings, settings);
    this.save();
  }

  remove(event: PlaceEvent): void {
    this.end(event);
    this.events.delete(event.kept.id);
    this.save();
  }

  /** False: nothing is received yet, so there is nothing to publish. */
  publish(event: PlaceEvent): boolean {
    if (event.kept.published) return true;
    if (!event.current || event.current.arrival.health.pictures === 0) return false;
    event.kept.published = true;
    this.save();
    event.crowd.see();
    return true;
  }

  end(event: PlaceEvent): void {
    if (event.kept.ended) return;
    event.kept.ended = true;
    this.save();
    event.crowd.leave();
    event.current?.drop('The event has ended.');
    this.lose(event, true);
  }

  /** What time alone does: slots that begin, events nobody came to, feeds that stay away. */
  tick(): void {
    const { rules } = this;
    for (const event of this.events.values()) {
      const { kept, current } = event;
      if (kept.ended || kept.lapsed) continue;
      const slotMs = kept.startsAt === null ? null : Date.parse(kept.startsAt);
      const begun = slotMs === null || this.nowMs() >= slotMs;
      if (rules.goesPublic === 'from_slot' && current && begun) this.publish(event);
      const waited = slotMs !== null && rules.lapseMs !== null && this.nowMs() > slotMs + rules.lapseMs;
      if (waited && !current && !kept.published) {
        kept.lapsed = true;
        this.save();
        this.log.info({ event: kept.id }, 'lapsed');
      }
      const lost = event.lostAtMs !== null && Date.now() - event.lostAtMs > rules.patienceMs;
      if (lost && !current && rules.afterPatience === 'ends') this.end(event);
    }
  }

  judge(app: string, key: string, drop: (says: string) => void): Verdict {
    const { rules } = this;
    const event = this.all().find(({ kept }) => kept.key === key);
    if (app !== rules.app || !event) return refuse('No event of yours is waiting for this key.');
    if (event.kept.ended) return refuse('This event has ended.');
    if (event.kept.lapsed) return refuse('Nobody came to this event. It was taken down.');
    if (event.current && rules.secondSender === 'refused')
      return refuse('Somebody sends with this key already.');
    event.current?.drop('Another sender took over with this key.');
    this.lose(event, false);
    const id = `${Date.now()}-${this.arrivals.length + 1}`;
    const arrival = new Arrival(id, this.arrivalsDir, rules.encoder, this.log);
    this.arrivals = [...this.arrivals.slice(-20), arrival];
    const timer = setTimeout(() => this.end(event), rules.longestMs);
    event.current = { arrival, drop, timer };
    event.lostAtMs = null;
    this.log.info({ event: event.kept.id, arrival: id }, 'receiving');
    return { ok: true, sink: this.sinkOf(event, arrival) };
  }

  private sinkOf(event: PlaceEvent, arrival: Arrival): Sink {
    const { cleanEnd } = this.rules;
    return {
      tag: (kind, timeMs, body) => {
        if (event.current?.arrival !== arrival) return;
        arrival.take(kind, timeMs, body);
        if (kind === PICTURE && event.kept.published) event.crowd.see();
      },
      ended: (clean) => {
        if (event.current?.arrival !== arrival) return;
        this.lose(event, clean);
        const asked = cleanEnd === 'option' && event.kept.settings['ends_with_feed'] === true;
        if (clean && (cleanEnd === 'ends' || asked)) this.end(event);
      },
    };
  }

  private lose(event: PlaceEvent, clean: boolean): void {
    const { current } = event;
    if (!current) return;
    event.current = null;
    event.lostAtMs = Date.now();
    clearTimeout(current.timer);
    current.arrival.end(clean);
    this.log.info({ event: event.kept.id, clean }, 'no longer receiving');
  }

  private add(kept: KeptEvent): PlaceEvent {
    const event = new PlaceEvent(kept, this.rules);
    this.events.set(kept.id, event);
    return event;
  }

  private save(): void {
    writeFileSync(this.file, JSON.stringify(this.all().map(({ kept }) => kept)), { mode: 0o600 });
  }
}

const refuse = (says: string): Verdict => ({ ok: false, code: 'NetStream.Publish.BadName', says });
