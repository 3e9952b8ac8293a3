import type { ProgrammeReport } from '@juncta/contract/relay';
import { findParameterSets } from '@juncta/core/media/h264';
import {
  DelayLine,
  headerTags,
  LastGroup,
  Splicer,
  tagOf,
  type ProgrammeFormat,
  type Slate,
  type SourceVideoFrame,
  type SourceAudioFrame,
  type Spliced,
} from '@juncta/core/programme';
import path from 'node:path';
import type { Logger } from 'pino';
import { ShowDrill } from '../drill/show-drill';
import { Feeds } from '../feeds/feeds';
import { AUDIO_KBPS, type Silence } from '../media/opus-to-aac';
import { Recorder } from '../recordings/recorder';
import type { Recordings } from '../recordings/recordings';
import { DeskSource } from '../uplink/desk-source';
import { AiredSilence } from './aired-silence';
import type { ProgrammeHeads, ProgrammeSink } from './sink';
import type { ProgrammeInput, ProgrammeSource, SourceStream } from './source';

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

/** Something that came, and what to do with it in its turn. */
interface Held {
  readonly act: (nowMs: number) => void;
  /** A video frame or an audio frame: what can be kept from viewers. */
  readonly isMedia: boolean;
}

/** One show at the relay: what comes from its source is held back as long as wanted, spliced, and handed to the sinks. */
export class Programme implements ProgrammeInput {
  private readonly log: Logger;
  private readonly splicer: Splicer;
  private format: ProgrammeFormat | null = null;
  private readonly group = new LastGroup();
  /** The stream that is being joined: with a delay, not always the one that is connected. */
  private stream: SourceStream | null = null;
  /** What the source sent, until it is to go out. */
  private held = new DelayLine<Held>(0);
  private readonly silence: AiredSilence;
  private readonly recorder: Recorder;
  readonly desk: DeskSource;
  readonly feeds: Feeds;
  readonly drill: ShowDrill;
  private readonly source: ProgrammeSource;
  private readonly sinks: readonly ProgrammeSink[];

  constructor(
    readonly showId: string,
    private readonly house: ProgrammeHouse,
  ) {
    this.log = house.log.child({ show: showId });
    const changed = () => house.changed();
    const { dir, recordings, allowLocalPlaces } = house;
    this.splicer = new Splicer(house.silence.frame);
    this.silence = new AiredSilence(() => this.splicer.state === 'source');
    this.recorder = new Recorder({ dir, showId, recordings, log: this.log, changed });
    const heads: ProgrammeHeads = {
      headers: (timeMs) => this.format && headerTags(this.format, timeMs),
      lastGroup: () => this.group.tags,
      changed,
    };
    this.feeds = new Feeds(heads, allowLocalPlaces, this.log);
    this.drill = new ShowDrill(path.join(dir, `drill-${showId}.json`), heads, {
      shown: () => this.splicer.state,
      cutUplink: (ms) => house.cutUplink(showId, ms),
      slowUplink: (ms) => house.slowUplink(showId, ms),
      die: () => house.die(),
      changed,
      log: this.log,
    });
    this.desk = new DeskSource(this, {
      log: this.log,
      keep: (...packet) => this.recorder.keep(...packet),
      changed,
    });
    this.source = this.desk;
    this.sinks = [this.silence, this.feeds, this.drill, this.recorder];
  }

  // --- What comes in

  get size(): ProgrammeFormat | null {
    return this.format;
  }

  begin(stream: SourceStream): void {
    this.inTurn(() => {
      this.stream = stream;
      this.splicer.newSource();
    });
  }

  gap(): void {
    this.inTurn(() => this.splicer.gap());
  }

  takeVideo(frame: SourceVideoFrame): void {
    // What came shares its memory with what comes next.
    const kept = this.held.delayMs > 0 ? { ...frame, units: frame.units.map((unit) => unit.slice()) } : frame;
    this.inTurn((nowMs) => {
      if (kept.key) this.settleFormat(kept);
      this.air(this.splicer.takeVideo(kept, nowMs));
    }, true);
  }

  takeAudio(frame: SourceAudioFrame): void {
    this.inTurn((nowMs) => this.air(this.splicer.takeAudio(frame, nowMs)), true);
  }

  slate(slate: Slate): void {
    this.splicer.useSlate(slate);
  }

  /** Does it at once, or after the show's delay: in the order in which it came. */
  private inTurn(act: Held['act'], isMedia = false): void {
    const nowMs = performance.now();
    if (this.held.delayMs === 0) act(nowMs);
    else this.held.push({ act, isMedia }, nowMs);
  }

  private settleFormat(keyframe: SourceVideoFrame): void {
    const sets = findParameterSets(keyframe.units);
    if (!sets || (this.format && sameBytes(this.format.sets.sps, sets.sps))) return;
    if (this.format) this.log.warn('the picture’s parameters changed within a show');
    const { width, height, videoKbps } = this.stream!;
    this.format = {
      width,
      height,
      sets: { sps: sets.sps.slice(), pps: sets.pps.slice() },
      audioConfig: this.house.silence.config,
      videoKbps,
      audioKbps: AUDIO_KBPS,
    };
  }

  // --- What is kept from viewers

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

  /**
   * What waits when viewers are covered is what is to be kept from them; what comes until they are shown the programme
   * again is so no less.
   */
  cover(on: boolean): void {
    if (on || this.covered) this.dropHeld();
    this.splicer.cover(on, performance.now());
    if (!on) this.source.wantKeyframe();
    this.source.covered(this.covered);
    this.log.info({ on }, 'cover');
    this.house.changed();
  }

  get covered(): boolean {
    return this.splicer.state === 'covered';
  }

  /** A change of the source is nothing to be seen, and stays. */
  private dropHeld(): void {
    for (const { act, isMedia } of this.held.drop()) if (!isMedia) act(performance.now());
    this.splicer.gap();
  }

  // --- What goes out

  /** To be called every few tens of ms. */
  tick(nowMs: number): void {
    for (const { act } of this.held.due(nowMs)) act(nowMs);
    this.air(this.splicer.tick(nowMs));
    this.source.tick(nowMs);
    for (const sink of this.sinks) this.alone(sink, () => sink.tick(nowMs));
  }

  private air(spliced: readonly Spliced[]): void {
    const { format } = this;
    const stream = this.stream && { session: this.stream.session, offset: this.splicer.sourceOffset };
    for (const frame of spliced) {
      const tag = tagOf(frame);
      this.group.push(tag);
      for (const sink of this.sinks) this.alone(sink, () => sink.push({ frame, tag, stream, format }));
    }
  }

  /** One sink's trouble is its own. */
  private alone(sink: ProgrammeSink, act: () => void): void {
    try {
      act();
    } catch (error) {
      this.log.error({ err: error, sink: sink.constructor.name }, 'a sink of the programme');
    }
  }

  // --- The recorded run

  /** From now on everything is kept. Asked again with the same run, nothing changes. */
  beginRun(runId: string): void {
    if (this.recorder.runId !== null) return;
    const delayMs = this.recorder.begin(runId, this.held.delayMs, this.splicer.at);
    if (delayMs === null) return;
    this.silence.forget();
    this.holdBack(delayMs);
    this.source.wantKeyframe();
    this.house.changed();
  }

  /** Ends all feeds in good order, and the recording; its files are made in the background. */
  async end(): Promise<void> {
    this.feeds.stopAll();
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
      deskId: this.source.id,
      runId: recorder.runId,
      showTimeMs: recorder.showTimeMs(this.splicer.at),
      silentMs:
        recorder.runId !== null && this.splicer.state === 'source'
          ? this.silence.silentMs(this.splicer.at)
          : null,
      delayMs: this.held.delayMs,
      isDrilled: this.drill.goesOn,
      incomingKbps: this.source.incomingKbps,
      loadPercent: this.house.loadPercent(),
      disk: recorder.disk,
      feeds: this.feeds.report(),
      recordings: this.house.recordings.list(this.showId, recorder.current),
    };
  }

  /** For the end of the process: nothing is ended at the places, and what was recorded is whole. */
  async close(): Promise<void> {
    this.source.close();
    for (const sink of this.sinks) await sink.close();
  }
}

const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, i) => byte === b[i]);
