import type { FeedWish, ProgrammeReport } from '@juncta/contract/relay';
import type { Hello } from '@juncta/contract/uplink';
import type { Packet } from '@juncta/core/media/packets';
import {
  DelayLine,
  headerTags,
  LastGroup,
  Splicer,
  tagOf,
  type ProgrammeFormat,
  type ProgrammeTag,
  type SourcePicture,
  type Spliced,
  SAMPLE_RATE_HZ,
} from '@juncta/core/programme';
import type { Lane } from '@juncta/core/uplink';
import type { FlvTag } from '@juncta/core/media/flv';
import { findParameterSets, splitUnits, type ParameterSets } from '@juncta/core/media/h264';
import { SilenceDetector } from '@juncta/core/media/audio';
import path from 'node:path';
import type { Logger } from 'pino';
import { ShowDrill } from '../drill/show-drill';
import { Feed, type FeedSource } from '../feeds/feed';
import { Recorder } from '../recordings/recorder';
import type { Recordings } from '../recordings/recordings';
import { OpusToAac, SOUND_KBPS, type Silence } from '../media/opus-to-aac';

/** What all programmes of the relay share. */
export interface ProgrammeHouse {
  readonly dir: string;
  readonly silence: Silence;
  readonly allowLocalPlaces: boolean;
  readonly recordings: Recordings;
  readonly log: Logger;
  /** Of one core, over the last seconds. */
  loadPercent(): number;
  /** Something in the report has changed that is worth telling at once. */
  changed(): void;
  /** Faults of a drill: on the way from the desk, and of this process. */
  cutUplink(showId: string, ms: number): void;
  slowUplink(showId: string, ms: number): void;
  die(): void;
}

/** The desk's end of the uplink, as the programme sees it. */
export interface DeskLine {
  readonly deskId: string;
  readonly acknowledge: (lane: Lane, number: number) => void;
  wantKeyframe(): void;
  /** Viewers see the slate because somebody wants it, or do so no more. */
  covered(on: boolean): void;
}

export type Admission = { readonly ok: true } | { readonly ok: false; readonly sentence: string };

/** Something that came, and what to do with it in its turn. */
interface Held {
  readonly act: (nowMs: number) => void;
  /** A picture or a sound: what can be kept from viewers. */
  readonly isMedia: boolean;
}

const INCOMING_MS = 3000;

/** One show at the relay: what comes from its desk is spliced, sent on by its feeds, and recorded. */
export class Programme {
  private readonly log: Logger;
  private splicer: Splicer;
  private format: ProgrammeFormat | null = null;
  private readonly group = new LastGroup();
  private readonly feeds = new Map<string, Feed>();
  private desk: DeskLine | null = null;
  private hello: Hello | null = null;
  /** The session that is being joined: with a delay, not always the one that is connected. */
  private joined: Hello | null = null;
  private lastNumber = 0;
  private converter: OpusToAac | null = null;
  private slate: SourcePicture[] = [];
  private readonly recorder: Recorder;
  private readonly silence = new SilenceDetector();
  /** What the desk sent, until it is to go out. */
  private held = new DelayLine<Held>(0);
  private incoming: { atMs: number; bytes: number }[] = [];
  epoch = 0;
  /** Tickets of a lower epoch are not good any longer, on any lane. */
  revokedBelow = 0;

  constructor(
    readonly showId: string,
    private readonly house: ProgrammeHouse,
  ) {
    this.log = house.log.child({ show: showId });
    this.splicer = new Splicer(house.silence.frame);
    const { dir, recordings } = house;
    this.recorder = new Recorder({ dir, showId, recordings, log: this.log, changed: () => house.changed() });
    this.drill = new ShowDrill(path.join(house.dir, `drill-${showId}.json`), this.source, {
      shown: () => this.splicer.state,
      cutUplink: (ms) => house.cutUplink(showId, ms),
      slowUplink: (ms) => house.slowUplink(showId, ms),
      die: () => house.die(),
      changed: () => house.changed(),
      log: this.log,
    });
  }
  readonly drill: ShowDrill;

  // --- The desk

  /** A desk's live lane begins. Its format must be the show's, once that is settled. */
  admit(hello: Hello, desk: DeskLine): Admission {
    const { format } = this;
    if (format && (format.width !== hello.width || format.height !== hello.height)) {
      return {
        ok: false,
        sentence: `This show runs at ${format.width}x${format.height}, and that cannot change while it runs.`,
      };
    }
    const again = this.hello?.session === hello.session;
    this.desk = desk;
    this.hello = hello;
    if (!again) {
      this.lastNumber = 0;
      this.inTurn(() => this.newSession(hello));
    } else this.inTurn(() => this.splicer.gap());
    this.house.changed();
    return { ok: true };
  }

  /** The desk's line is gone. Another may have come in the meantime, which stays. */
  leave(desk: DeskLine): void {
    if (this.desk !== desk) return;
    this.desk = null;
    this.house.changed();
  }

  /** One packet as it came, whole and sound. Only the live lane's are shown; both are kept. */
  take(lane: Lane, packet: Packet, bytes: Uint8Array, desk: DeskLine): void {
    this.recorder.keep(lane, packet, bytes, desk.acknowledge);
    if (lane === 'backlog' || desk !== this.desk || packet.number <= this.lastNumber) return;
    if (packet.number !== this.lastNumber + 1 && this.lastNumber > 0) this.inTurn(() => this.splicer.gap());
    this.lastNumber = packet.number;
    const nowMs = performance.now();
    this.incoming.push({ atMs: nowMs, bytes: bytes.length });
    const time = Math.round((packet.timeUs * SAMPLE_RATE_HZ) / 1_000_000);
    if (packet.slate) this.takeSlate(packet, time);
    else {
      // What came shares its memory with what comes next.
      const kept = this.held.delayMs > 0 ? { ...packet, payload: packet.payload.slice() } : packet;
      this.inTurn((atMs: number) => {
        if (kept.track === 'sound') this.converter?.push(kept.payload, time);
        else this.takePicture(kept, time, atMs);
      }, true);
    }
  }

  /** Does it at once, or after the show's delay: in the order in which it came. */
  private inTurn(act: Held['act'], isMedia = false): void {
    const nowMs = performance.now();
    if (this.held.delayMs === 0) act(nowMs);
    else this.held.push({ act, isMedia }, nowMs);
  }

  /** What waits is what is to be kept from viewers. A change of the desk is nothing to be seen, and stays. */
  private dropHeld(): void {
    for (const { act, isMedia } of this.held.drop()) if (!isMedia) act(performance.now());
    this.splicer.gap();
  }

  /** How long everything is held back. Settled before a run: what waits is not let out of its turn. */
  setDelay(delayMs: number): void {
    if (this.recorder.runId === null) this.holdBack(delayMs);
  }

  private holdBack(delayMs: number): void {
    if (this.held.delayMs === delayMs) return;
    for (const { act } of this.held.drop()) act(performance.now());
    this.held = new DelayLine(delayMs);
    this.log.info({ delayMs }, 'delay');
    this.house.changed();
  }

  private takeSlate(packet: Packet, time: number): void {
    if (packet.key) this.slate = [];
    this.slate.push({ time, key: packet.key, units: splitUnits(packet.payload) });
    this.splicer.useSlate({ pictures: [...this.slate] });
  }

  private newSession(hello: Hello): void {
    this.joined = hello;
    this.splicer.newSource();
    this.converter?.close();
    this.converter = new OpusToAac(
      (frame, time) => this.air(this.splicer.sound({ frame, time }, performance.now())),
      this.log,
    );
  }

  private takePicture(packet: Packet, time: number, nowMs: number): void {
    const units = splitUnits(packet.payload);
    if (packet.key) {
      const sets = findParameterSets(units);
      if (sets) this.settleFormat(sets);
    }
    this.air(this.splicer.picture({ time, key: packet.key, units }, nowMs));
  }

  private settleFormat(sets: ParameterSets): void {
    const hello = this.joined!;
    if (this.format && sameBytes(this.format.sets.sps, sets.sps)) return;
    if (this.format) this.log.warn('the picture’s parameters changed within a show');
    this.format = {
      width: hello.width,
      height: hello.height,
      sets: { sps: sets.sps.slice(), pps: sets.pps.slice() },
      soundConfig: this.house.silence.config,
      pictureKbps: hello.pictureKbps,
      soundKbps: SOUND_KBPS,
    };
  }

  // --- What goes out

  /** To be called every few tens of ms. */
  tick(nowMs: number): void {
    for (const { act } of this.held.due(nowMs)) act(nowMs);
    this.air(this.splicer.tick(nowMs));
    const wallMs = Date.now();
    for (const feed of this.feeds.values()) feed.flush(wallMs);
    this.drill.tick(wallMs);
    while (this.incoming[0] && nowMs - this.incoming[0].atMs > INCOMING_MS) this.incoming.shift();
    this.recorder.tick(nowMs);
  }

  cover(on: boolean): void {
    if (on) this.dropHeld();
    this.splicer.cover(on, performance.now());
    if (!on) this.desk?.wantKeyframe();
    this.desk?.covered(this.covered);
    this.log.info({ on }, 'cover');
    this.house.changed();
  }

  get covered(): boolean {
    return this.splicer.state === 'covered';
  }

  private air(spliced: readonly Spliced[]): void {
    const joined = this.joined && { session: this.joined.session, offset: this.splicer.sourceOffset };
    for (const one of spliced) {
      const tag = tagOf(one);
      if (one.track === 'sound') this.silence.hear(one.frame, one.at);
      if (this.splicer.state !== 'source') this.silence.rest(one.at);
      this.group.push(tag);
      for (const feed of this.feeds.values()) feed.push(tag);
      this.drill.push(tag);
      this.recorder.record(one, tag, joined, this.format);
    }
  }

  // --- Feeds

  startFeed(destinationId: string, wish: FeedWish): void {
    let feed = this.feeds.get(destinationId);
    if (!feed) {
      feed = new Feed(destinationId, this.source, this.house.allowLocalPlaces, this.log);
      this.feeds.set(destinationId, feed);
    }
    feed.start(wish);
  }

  /** What feeds need of this programme: those of the show, and those of a drill. */
  private readonly source: FeedSource = {
    headers: (timeMs: number): readonly FlvTag[] | null => this.format && headerTags(this.format, timeMs),
    lastGroup: (): readonly ProgrammeTag[] => this.group.tags,
    changed: () => this.house.changed(),
  };

  feed(destinationId: string): Feed | undefined {
    return this.feeds.get(destinationId);
  }

  // --- The recorded run

  /** From now on everything is kept. Asked again with the same run, nothing changes. */
  beginRun(runId: string): void {
    if (this.recorder.runId !== null) return;
    const delayMs = this.recorder.begin(runId, this.held.delayMs, this.splicer.at);
    if (delayMs === null) return;
    this.silence.forget();
    this.holdBack(delayMs);
    this.desk?.wantKeyframe();
    this.house.changed();
  }

  /** Ends all feeds in good order, and the recording; its files are made in the background. */
  async end(): Promise<void> {
    for (const feed of this.feeds.values()) feed.stop();
    if (this.recorder.runId === null) return;
    await this.recorder.end();
    this.house.changed();
  }

  // --- Report

  report(): ProgrammeReport {
    const { recorder } = this;
    return {
      showId: this.showId,
      state: this.splicer.state,
      deskId: this.desk?.deskId ?? null,
      runId: recorder.runId,
      showTimeMs: recorder.showTimeMs(this.splicer.at),
      silentMs:
        recorder.runId !== null && this.splicer.state === 'source'
          ? this.silence.silentMs(this.splicer.at)
          : null,
      delayMs: this.held.delayMs,
      isDrilled: this.drill.goesOn,
      incomingKbps: Math.round((this.incoming.reduce((sum, { bytes }) => sum + bytes, 0) * 8) / INCOMING_MS),
      loadPercent: this.house.loadPercent(),
      disk: recorder.disk,
      feeds: [...this.feeds.values()].map((feed) => feed.report()),
      recordings: this.house.recordings.list(this.showId, recorder.current),
    };
  }

  /** For the end of the process: nothing is ended at the places, and what was recorded is whole. */
  async close(): Promise<void> {
    for (const feed of this.feeds.values()) feed.drop();
    await this.drill.close();
    this.converter?.close();
    await this.recorder.close();
  }
}

const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, i) => byte === b[i]);
