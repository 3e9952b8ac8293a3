import { backoff } from '@juncta/core/retry';
import { encodePacket, type Packet } from '@juncta/core/media/packets';
import { backlogRoom, followedFrom, followUplink, Outbox, type FollowedRate } from '@juncta/core/uplink';
import type { PacketMessage } from '../stage/messages';
import { BacklogLane, type BacklogWays } from './backlog-lane';
import type { UplinkMessage, UplinkReport } from './messages';
import { PacketStore } from './packet-store';
import { UplinkSocket } from './uplink-socket';

type Start = Extract<UplinkMessage, { type: 'start' }>;

const REPORT_EVERY_MS = 500;
const HOUSEKEEPING_MS = 1000;
/** More than this in the live socket and the line carries too little: on to the next keyframe. About six seconds. */
const MOST_LIVE_BYTES = 3_000_000;

/** Numbers and keeps the programme's packets, sends them, and sends again what did not arrive. */
export class Uplink {
  private readonly outbox = new Outbox();
  private readonly policy = backoff({ firstMs: 300, longestMs: 3000, attempts: 1e9, random: Math.random });
  private live: UplinkSocket | null = null;
  private readonly missed: BacklogLane;
  private left: BacklogLane | null = null;
  private store: PacketStore | null = null;
  private attempt = 0;
  private number = 0;
  private working: Promise<void> = Promise.resolve();
  private stopped = false;
  private ticket: string;
  private uplinkUrl: string;
  private rate: FollowedRate;
  private ceilingKbps: number;
  private readonly timers: ReturnType<typeof setInterval>[] = [];
  private again: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly start: Start,
    private readonly report: (report: UplinkReport) => void,
  ) {
    this.ticket = start.ticket;
    this.uplinkUrl = start.uplinkUrl;
    this.ceilingKbps = start.videoKbps;
    this.rate = followedFrom(start.videoKbps);
    start.packets.onmessage = ({ data }: MessageEvent<PacketMessage>) => this.take(data);
    this.timers.push(setInterval(() => this.tellFigures(), REPORT_EVERY_MS));
    this.timers.push(setInterval(() => this.keepHouse(), HOUSEKEEPING_MS));
    this.working = PacketStore.open(start.showId, start.session).then((store) => {
      this.store = store;
    });
    this.missed = this.lane(this.outbox, start.session, {
      store: async () => {
        await this.working;
        return this.store;
      },
    });
    this.connect();
    void this.sendLeft();
  }

  renew(ticket: string, uplinkUrl: string): void {
    this.ticket = ticket;
    this.uplinkUrl = uplinkUrl;
    for (const lane of [this.live, this.missed, this.left]) lane?.say({ type: 'renew', ticket });
    if (!this.live) this.connect();
  }

  cover(on: boolean): void {
    this.live?.say({ type: 'cover', on });
  }

  /** The most that is to be sent: another place may have been added. */
  limit(videoKbps: number): void {
    this.ceilingKbps = videoKbps;
    if (this.rate.kbps > videoKbps) this.setRate(followedFrom(videoKbps));
  }

  private setRate(rate: FollowedRate): void {
    const changed = rate.kbps !== this.rate.kbps;
    this.rate = rate;
    if (changed) this.start.packets.postMessage({ type: 'rate', videoKbps: rate.kbps });
  }

  /** What is still missed stays in the store, and goes out with the next composing. */
  stop(): void {
    this.stopped = true;
    clearTimeout(this.again);
    for (const timer of this.timers) clearInterval(timer);
    this.start.packets.close();
    this.live?.close();
    this.missed.close();
    this.left?.close();
    void this.working.then(async () => {
      await this.store?.forget((first, last) => this.outbox.needs(first, last), true);
      this.store?.close();
    });
  }

  // --- What comes from the composer

  private take(encoded: PacketMessage): void {
    const { track, key, slate, timeUs, durationUs, payload } = encoded;
    const { session } = this.start;
    const packet: Packet = { session, number: ++this.number, track, key, slate, timeUs, durationUs, payload };
    const bytes = encodePacket(packet) as Uint8Array<ArrayBuffer>;
    if (slate) {
      // Wanted by the relay alone, at once, and again should it lose its memory.
      if (key) this.slate.length = 0;
      this.slate.push(bytes);
      if (this.live?.ready) this.live.send(bytes);
      return;
    }
    const isLive = this.outbox.add(packet.number, key, track);
    if (isLive) this.sendLive(bytes);
    if (this.outbox.wantsKey) this.askForKey();
    // One after the other: the store's files are written in order.
    this.working = this.working
      .then(async () => this.store!.add(packet.number, bytes))
      .catch(() => undefined);
  }

  private sendLive(bytes: Uint8Array<ArrayBuffer>): void {
    const { live } = this;
    if (!live?.ready) return;
    live.send(bytes);
    if (live.underWay.bytes > MOST_LIVE_BYTES) {
      this.outbox.skipToKey();
      this.askForKey();
    }
  }

  private askedAtMs = -Infinity;
  private askForKey(): void {
    const nowMs = performance.now();
    // Until the line is free again there is no use in another.
    if (nowMs - this.askedAtMs < 500 || (this.live?.underWay.bytes ?? 0) > MOST_LIVE_BYTES / 2) return;
    this.askedAtMs = nowMs;
    this.start.packets.postMessage({ type: 'keyframe_wanted' });
  }

  // --- The live lane

  private connect(): void {
    if (this.stopped) return;
    clearTimeout(this.again);
    const socket = new UplinkSocket(this.uplinkUrl, this.hello('live', this.start.session), 'live', {
      welcome: () => {
        this.attempt = 0;
        this.outbox.connected();
        this.resendSlate(socket);
        this.askedAtMs = -Infinity;
        this.askForKey();
        this.sendMissed();
      },
      acknowledged: (number) => this.outbox.acknowledged('live', number),
      arrived: () => this.sendMissed(),
      keyframeWanted: () => this.start.packets.postMessage({ type: 'keyframe_wanted' }),
      covered: (on) => this.report({ type: 'covered', on }),
      refused: ({ code, sentence }) => {
        this.live = null;
        this.outbox.lost('live');
        this.report({ type: 'refused', code, sentence });
      },
      lost: () => this.loseLive(socket),
    });
    this.live = socket;
  }

  private loseLive(socket: UplinkSocket): void {
    if (this.live !== socket) return;
    this.live = null;
    this.report({ type: 'covered', on: null });
    this.outbox.lost('live');
    this.attempt += 1;
    this.again = setTimeout(() => this.connect(), this.policy.delayMs(this.attempt + 1) ?? 3000);
  }

  private hello(lane: 'live' | 'backlog', session: string) {
    const { size, videoKbps, audioKbps } = this.start;
    return { ticket: this.ticket, lane, session, ...size, videoKbps, audioKbps };
  }

  /** The relay may have lost it with its own life, or missed a new one: packets that come twice do no harm. */
  private resendSlate(socket: UplinkSocket): void {
    for (const bytes of this.slate) socket.send(bytes);
  }
  private readonly slate: Uint8Array<ArrayBuffer>[] = [];

  // --- What was missed, and what earlier composings left

  private lane(outbox: Outbox, session: string, ways: Pick<BacklogWays, 'store' | 'over'>): BacklogLane {
    return new BacklogLane(outbox, {
      ...ways,
      open: (events) => new UplinkSocket(this.uplinkUrl, this.hello('backlog', session), 'backlog', events),
      room: (waitingBytes) =>
        backlogRoom(this.live?.underWay.waitingMs(performance.now()) ?? 0, waitingBytes),
    });
  }

  private sendMissed(): void {
    if (this.live?.ready) void this.missed.go();
  }

  /** Session after session, each over a line of its own. */
  private async sendLeft(): Promise<void> {
    for (const store of await PacketStore.left(this.start.showId, this.start.session)) {
      const outbox = new Outbox();
      for (const number of await store.numbers()) outbox.addLeft(number);
      const sent = await new Promise<boolean>((over) => {
        this.left = this.lane(outbox, store.session, { store: () => Promise.resolve(store), over });
        void this.left.go();
      });
      this.left?.close();
      this.left = null;
      if (sent) await store.forget(() => false, true);
    }
  }

  // --- Housekeeping

  private keepHouse(): void {
    const nowMs = performance.now();
    this.live?.watch(nowMs);
    if (this.live?.ready) this.missed.watch(nowMs);
    this.left?.watch(nowMs);
    if (this.outbox.wantsKey) this.askForKey();
    this.working = this.working
      .then(async () => {
        this.store?.flush();
        await this.store?.forget((first, last) => this.outbox.needs(first, last));
      })
      .catch(() => undefined);
  }

  private tellFigures(): void {
    const nowMs = performance.now();
    const { live } = this;
    const kbps = Math.round(live?.underWay.sentKbps(nowMs) ?? 0);
    if (live?.ready) {
      const waitingMs = live.underWay.takeLeastWaitingMs(nowMs);
      const seen = { waitingMs, sentKbps: kbps, arrivedKbps: live.underWay.arrivedKbps };
      this.setRate(followUplink(this.rate, seen, this.start.audioKbps, this.ceilingKbps));
    }
    this.report({
      type: 'figures',
      connected: live?.ready ?? false,
      missed: this.outbox.missedCount,
      waitingBytes: live?.underWay.bytes ?? 0,
      kbps,
      videoKbps: this.rate.kbps,
      ceilingKbps: this.ceilingKbps,
      kept: this.store?.kept ?? true,
    });
  }
}
