import { findParameterSets } from '@juncta/core/media/h264';
import {
  AIRED_AUDIO_KBPS,
  DelayLine,
  headerTags,
  LastGroup,
  Splicer,
  tagOf,
  type ProgrammeFormat,
  type ProgrammeState,
  type Slate,
  type SourceAudioFrame,
  type SourceVideoFrame,
  type Spliced,
} from '@juncta/core/programme';
import type { Logger } from 'pino';
import type { Silence } from '../media/opus-to-aac';
import type { ProgrammeHeads, ProgrammeSink } from './sink';
import type { ProgrammeInput, ProgrammeSource, SourceStream } from './source';

/** What a programme needs of the relay around it. */
export interface ProgrammeHouse {
  /** One frame of silence in the show's format, and what a decoder has to know of it. */
  readonly silence: Silence;
  /** Something goes out or is recorded: the format stays what it is. */
  isSettled(): boolean;
  readonly log: Logger;
  /** Something in the report has changed that is worth telling at once. */
  changed(): void;
}

/** Something that came, and what to do with it in its turn. */
interface Held {
  readonly act: (nowMs: number) => void;
  /** A video frame or an audio frame: what can be kept from viewers. */
  readonly isMedia: boolean;
}

/**
 * What viewers get of one show: what comes from its source is held back as long as wanted, spliced, and handed to the
 * sinks. It knows neither of them but by {@link ProgrammeSource} and {@link ProgrammeSink}.
 */
export class Programme implements ProgrammeInput {
  private readonly splicer: Splicer;
  private format: ProgrammeFormat | null = null;
  private group = new LastGroup();
  /** The stream that is being joined: with a delay, not always the one that is connected. */
  private stream: SourceStream | null = null;
  /** What the source sent, until it is to go out. */
  private held = new DelayLine<Held>(0);
  private source: ProgrammeSource | null = null;
  private sinks: readonly ProgrammeSink[] = [];

  /** For sinks that begin late. */
  readonly heads: ProgrammeHeads = {
    headers: (timeMs) => this.format && headerTags(this.format, timeMs),
    lastGroup: () => this.group.tags,
    changed: () => this.house.changed(),
    wantKeyframe: () => this.source?.wantKeyframe(),
  };

  constructor(private readonly house: ProgrammeHouse) {
    this.splicer = new Splicer(house.silence.frame);
  }

  /** Once, before anything comes. */
  connect(source: ProgrammeSource, sinks: readonly ProgrammeSink[]): void {
    this.source = source;
    this.sinks = sinks;
  }

  get state(): ProgrammeState {
    return this.splicer.state;
  }

  /** Where the timeline is, samples. */
  get at(): number {
    return this.splicer.at;
  }

  // --- What comes in

  get size(): ProgrammeFormat | null {
    return this.house.isSettled() ? this.format : null;
  }

  begin(stream: SourceStream): void {
    this.inTurn(() => {
      if (this.format && (this.format.width !== stream.width || this.format.height !== stream.height)) {
        // Nobody has seen it: the next keyframe settles it anew.
        this.format = null;
        this.group = new LastGroup();
        this.splicer.useSlate(null);
      }
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
    if (this.format) this.house.log.warn('the picture’s parameters changed within a show');
    const { width, height, videoKbps } = this.stream!;
    this.format = {
      width,
      height,
      sets: { sps: sets.sps.slice(), pps: sets.pps.slice() },
      audioConfig: this.house.silence.config,
      videoKbps,
      audioKbps: AIRED_AUDIO_KBPS,
    };
  }

  // --- What is kept from viewers

  get delayMs(): number {
    return this.held.delayMs;
  }

  /** How long everything is held back from now on. What waits goes out at once. */
  holdBack(delayMs: number): void {
    if (this.held.delayMs === delayMs) return;
    for (const { act } of this.held.drop()) act(performance.now());
    this.held = new DelayLine(delayMs);
    this.house.log.info({ delayMs }, 'delay');
    this.house.changed();
  }

  /**
   * What waits when viewers are covered is what is to be kept from them; what comes until they are shown the programme
   * again is so no less.
   */
  cover(on: boolean): void {
    if (on || this.covered) this.dropHeld();
    this.splicer.cover(on, performance.now());
    if (!on) this.source?.wantKeyframe();
    this.source?.covered(this.covered);
    this.house.log.info({ on }, 'cover');
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
    this.source?.tick(nowMs);
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
      this.house.log.error({ err: error, sink: sink.constructor.name }, 'a sink of the programme');
    }
  }

  /** For the end of the process. */
  async close(): Promise<void> {
    this.source?.close();
    for (const sink of this.sinks) await sink.close();
  }
}

const sameBytes = (a: Uint8Array, b: Uint8Array): boolean =>
  a.length === b.length && a.every((byte, i) => byte === b[i]);
