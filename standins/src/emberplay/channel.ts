import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Logger } from 'pino';
import { Arrival } from '../kit/ingest/arrival';
import { ChatRoom } from '../kit/chat/chat-room';
import { Crowd, type Aside } from '../kit/chat/crowd';
import type { Sink, Verdict } from '../kit/ingest/rtmp-ingest';
import type { EncoderRules } from '../kit/ingest/stream-health';

export const TITLE_BYTES = 150;
export const VIEWER_DELAY_S = 5;
export const CATEGORIES = ['Food and drink', 'Talk', 'Making things', 'Games'] as const;
export const RULES: EncoderRules = { maxHeight: 1080, maxFramesPerS: 60, maxKbps: 7000, keyframeS: 2 };
const APP = 'ember';
const PICTURE = 9;
const LONGEST_MS = 20 * 3_600_000;

interface Kept {
  title: string;
  category: string | null;
  key: string;
  settings?: Record<string, unknown>;
}

/** What the place itself tells of viewers. */
const EVENTS: readonly Aside[] = [
  { afterS: 5, who: 6, kind: 'follow', text: 'follows the channel' },
  { afterS: 19, who: 2, kind: 'sale', text: 'bought “Rye for beginners”, 1 bag' },
];

/**
 * The one channel of this Emberplay: public as soon as a picture arrives, if it has a category. A newer sender with
 * the key takes over; a lost feed is the end at once, and the next arrival begins anew.
 */
export class Channel {
  readonly slug = 'millrace';
  readonly name = 'Millrace Flour & Baking School';
  private kept: Kept;
  private readonly file: string;
  private readonly arrivalsDir: string;
  arrivals: Arrival[] = [];
  /** How far behind viewers are; the console may move it. */
  delayS = VIEWER_DELAY_S;
  readonly chat = new ChatRoom();
  private readonly crowd = new Crowd(
    { seed: 5, delayS: () => this.delayS, most: 84, aside: EVENTS },
    this.chat,
  );
  private current: { arrival: Arrival; drop: (says: string) => void; timer: NodeJS.Timeout } | null = null;

  constructor(
    dir: string,
    private readonly log: Logger,
  ) {
    this.file = path.join(dir, 'channel.json');
    this.arrivalsDir = path.join(dir, 'arrivals');
    mkdirSync(this.arrivalsDir, { recursive: true });
    this.kept = existsSync(this.file)
      ? (JSON.parse(readFileSync(this.file, 'utf8')) as Kept)
      : { title: 'Fresh every week', category: 'Food and drink', key: newKey() };
    this.save();
  }

  get title(): string {
    return this.kept.title;
  }
  get category(): string | null {
    return this.kept.category;
  }
  get settings(): Record<string, unknown> {
    return this.kept.settings ?? {};
  }
  get key(): string {
    return this.kept.key;
  }
  get live(): Arrival | null {
    return this.current?.arrival ?? null;
  }

  get viewers(): number {
    return this.crowd.viewers;
  }

  change(values: Partial<Omit<Kept, 'key'>>): void {
    this.kept = { ...this.kept, ...values };
    this.save();
  }

  renewKey(): void {
    this.kept = { ...this.kept, key: newKey() };
    this.save();
  }

  judge(app: string, key: string, drop: (says: string) => void): Verdict {
    if (app !== APP)
      return refuse('NetStream.Publish.BadName', `There is no application ${app.slice(0, 40)} here.`);
    if (key !== this.key) return refuse('NetStream.Publish.BadName', 'This stream key is not valid.');
    if (this.category === null) {
      return refuse('NetStream.Publish.Rejected', 'Choose a category for the channel before you send.');
    }
    this.current?.drop('Another sender took over with this key.');
    this.end(false);
    const arrival = new Arrival(
      `${Date.now()}-${this.arrivals.length + 1}`,
      this.arrivalsDir,
      RULES,
      this.log,
    );
    this.arrivals = [...this.arrivals.slice(-20), arrival];
    const timer = setTimeout(() => {
      drop('The longest show is over.');
      this.end(true);
    }, LONGEST_MS);
    this.current = { arrival, drop, timer };
    this.log.info({ arrival: arrival.id }, 'on air');
    return { ok: true, sink: this.sinkOf(arrival) };
  }

  private sinkOf(arrival: Arrival): Sink {
    return {
      tag: (kind, timeMs, body) => {
        if (this.current?.arrival !== arrival) return;
        arrival.take(kind, timeMs, body);
        if (kind === PICTURE) this.crowd.see();
      },
      ended: (clean) => {
        if (this.current?.arrival === arrival) this.end(clean);
      },
    };
  }

  private end(clean: boolean): void {
    const { current } = this;
    if (!current) return;
    this.current = null;
    this.crowd.leave();
    clearTimeout(current.timer);
    current.arrival.end(clean);
    this.log.info({ arrival: current.arrival.id, clean }, 'over');
  }

  private save(): void {
    writeFileSync(this.file, JSON.stringify(this.kept), { mode: 0o600 });
  }
}

const newKey = () => `ember_${randomBytes(18).toString('base64url')}`;
const refuse = (code: string, says: string): Verdict => ({ ok: false, code, says });
