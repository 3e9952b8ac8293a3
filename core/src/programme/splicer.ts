import { SAMPLE_RATE_HZ, SAMPLES_PER_FRAME } from './programme-clock';
import { AAC_FRAME_SAMPLES } from '../media/audio/adts';

/**
 * The splicer: one unbroken timeline out of sources that come and go. It hands on the source's video and audio,
 * fills with the standby slate and silence while there is none, and joins each source at one of its keyframes.
 *
 * Time is counted in samples of 48 kHz. On the timeline, audio stands on a grid of {@link AAC_FRAME_SAMPLES} without
 * a gap, frames are strictly later than those before them, and nothing is said twice. Where a source lands on the
 * timeline follows the relay's clock, so that after a break viewers are as far behind as they were before.
 *
 * No clock of its own and no input or output: what comes in carries `nowMs`, a clock that never goes back.
 */
export interface SourceVideoFrame {
  /** Samples on the source's own clock. */
  readonly time: number;
  readonly key: boolean;
  readonly units: readonly Uint8Array[];
}

export interface SourceAudioFrame {
  readonly time: number;
  /** One AAC frame of {@link AAC_FRAME_SAMPLES}. */
  readonly frame: Uint8Array;
}

/** What fills in: a closed group of pictures that is repeated, made by the same encoder as the show's own. */
export interface Slate {
  readonly videoFrames: readonly Pick<SourceVideoFrame, 'key' | 'units'>[];
}

export interface SplicedVideoFrame {
  readonly track: 'video';
  readonly at: number;
  readonly key: boolean;
  readonly units: readonly Uint8Array[];
  readonly from: 'source' | 'slate';
}
export interface SplicedAudioFrame {
  readonly track: 'audio';
  readonly at: number;
  readonly frame: Uint8Array;
  readonly from: 'source' | 'slate';
}
export type Spliced = SplicedVideoFrame | SplicedAudioFrame;

/** `waiting`: nothing has come yet. `covered`: the slate, because somebody wants it. */
export const PROGRAMME_STATES = ['waiting', 'source', 'slate', 'covered'] as const;
export type ProgrammeState = (typeof PROGRAMME_STATES)[number];

/** A source that has sent no frame for this long is taken to be away. Networks pause for less all the time. */
export const SLATE_AFTER_MS = 1000;
/** Frames wait so long for their audio, which takes the longer way; then they go with silence. */
export const PATIENCE_MS = 400;
/** Audio that still came, too late, is waited for from then on: on a machine that is taken, all of it takes longer. */
const MOST_PATIENCE_MS = 2000;
const MORE_PATIENCE_MS = 50;
/** How far from where the clock wants it a returning source may land by its own time. */
const NEAR_SAMPLES = 1.5 * SAMPLE_RATE_HZ;
const SAMPLES_PER_MS = SAMPLE_RATE_HZ / 1000;
/** Audio that comes before its source is joined is kept for about a second. */
const EARLY_AUDIO_FRAMES = 48;

/** A time at which all patience is over. */
const AT_ONCE = Number.MAX_SAFE_INTEGER;

type Arrived<T> = T & { readonly arrivedMs: number };

export class Splicer {
  private mode: ProgrammeState = 'waiting';
  private slate: Slate | null = null;
  private slateNext = 0;
  /** From the source's time to the timeline; null until the present source is joined for the first time. */
  private offset: number | null = null;
  private joined = false;
  private videoFrames: Arrived<SourceVideoFrame>[] = [];
  private audioFrames: Arrived<SourceAudioFrame>[] = [];
  private lastSourceTime = -1;
  private lastArrivalMs = 0;
  private patienceMs = PATIENCE_MS;
  /** The first slot of this source that went with silence since its audio took too long; null: none did. */
  private gaveUpAt: number | null = null;
  /** Where the last frame stands; null before the first. */
  private lastVideoAt: number | null;
  private nextSlot: number;
  /** The timeline at an instant, to know where a gap should end. */
  private anchor = { ms: 0, at: 0 };

  /**
   * @param silence one AAC frame of silence, in the format of the show
   * @param startAt where the timeline begins; above 0 when a run is taken up again
   */
  constructor(
    private readonly silence: Uint8Array,
    startAt = 0,
  ) {
    this.nextSlot = Math.ceil(startAt / AAC_FRAME_SAMPLES);
    this.lastVideoAt = startAt > 0 ? this.nextSlot * AAC_FRAME_SAMPLES : null;
  }

  get state(): ProgrammeState {
    return this.mode;
  }

  /** Where the timeline has come to, in samples. */
  get at(): number {
    return this.lastVideoAt ?? 0;
  }

  /** From a source's time to the timeline; null before the present source is joined. */
  get sourceOffset(): number | null {
    return this.offset;
  }

  /** Null: there is none any more. */
  useSlate(slate: Slate | null): void {
    this.slate = slate;
    this.slateNext = 0;
  }

  /** Another source begins, with a clock of its own. What the last one still had under way is let go. */
  newSource(): void {
    this.offset = null;
    this.lastSourceTime = -1;
    this.videoFrames = [];
    this.audioFrames = [];
    this.joined = false;
    this.patienceMs = PATIENCE_MS;
    this.gaveUpAt = null;
  }

  /** Frames are missing: those to come cannot be shown before the next keyframe. */
  gap(): void {
    this.joined = false;
  }

  /** Shows the slate whatever comes, from the next frame on; or takes it away again at the next keyframe. */
  cover(on: boolean, nowMs: number): void {
    if (on === (this.mode === 'covered')) return;
    if (on) {
      this.beginSlate('covered', nowMs);
      this.videoFrames = [];
      this.audioFrames = [];
    } else {
      this.mode = this.lastVideoAt === null ? 'waiting' : 'slate';
    }
    this.joined = false;
  }

  takeVideo(videoFrame: SourceVideoFrame, nowMs: number): Spliced[] {
    if (videoFrame.time <= this.lastSourceTime) return [];
    const out: Spliced[] = [];
    if (!this.joined) {
      if (!videoFrame.key || this.mode === 'covered') return [];
      this.join(videoFrame, nowMs, out);
    }
    this.lastSourceTime = videoFrame.time;
    this.lastArrivalMs = nowMs;
    this.videoFrames.push({ ...videoFrame, arrivedMs: nowMs });
    this.drain(nowMs, out);
    return out;
  }

  takeAudio(audioFrame: SourceAudioFrame, nowMs: number): Spliced[] {
    const out: Spliced[] = [];
    this.audioFrames.push({ ...audioFrame, arrivedMs: nowMs });
    if (this.joined) this.drain(nowMs, out);
    else if (this.audioFrames.length > EARLY_AUDIO_FRAMES) this.audioFrames.shift();
    return out;
  }

  /** What has become due by the clock alone. To be called every few tens of ms. */
  tick(nowMs: number): Spliced[] {
    const out: Spliced[] = [];
    if (this.mode === 'source') {
      this.drain(nowMs, out);
      if (nowMs - this.lastArrivalMs > SLATE_AFTER_MS) {
        this.drain(AT_ONCE, out);
        this.joined = false;
        this.beginSlate('slate', this.lastArrivalMs);
      }
    }
    if (this.mode === 'slate' || this.mode === 'covered') this.fillTo(this.clockAt(nowMs), out);
    return out;
  }

  private clockAt(nowMs: number): number {
    return this.anchor.at + Math.max(0, Math.round((nowMs - this.anchor.ms) * SAMPLES_PER_MS));
  }

  private beginSlate(mode: 'slate' | 'covered', fromMs: number): void {
    if (this.mode !== 'slate' && this.mode !== 'covered') {
      this.anchor = { ms: fromMs, at: this.lastVideoAt ?? 0 };
      this.slateNext = 0;
    }
    this.mode = this.lastVideoAt === null && mode === 'slate' ? 'waiting' : mode;
  }

  /** Decides where the source lands, and fills up to there. */
  private join(videoFrame: SourceVideoFrame, nowMs: number, out: Spliced[]): void {
    const soonest = this.lastVideoAt === null ? 0 : this.lastVideoAt + SAMPLES_PER_FRAME;
    const wanted = this.lastVideoAt === null ? soonest : Math.max(soonest, this.clockAt(nowMs));
    const kept = this.offset === null ? null : videoFrame.time + this.offset;
    const at = kept !== null && kept >= soonest && Math.abs(kept - wanted) <= NEAR_SAMPLES ? kept : wanted;
    // What of the last stretch still waited comes first.
    if (this.mode === 'source') this.drain(AT_ONCE, out);
    else if (this.mode !== 'waiting') this.fillTo(at - SAMPLES_PER_FRAME, out);
    this.offset = at - videoFrame.time;
    this.gaveUpAt = null;
    this.videoFrames = [];
    this.joined = true;
    this.mode = 'source';
    if (this.lastVideoAt === null) this.anchor = { ms: nowMs, at };
  }

  /** The slate and its silence, up to a place on the timeline (included). */
  private fillTo(end: number, out: Spliced[]): void {
    for (;;) {
      const at = this.lastVideoAt === null ? this.anchor.at : this.lastVideoAt + SAMPLES_PER_FRAME;
      if (at > end) return;
      this.silenceTo(at, out);
      const next = this.slate?.videoFrames[this.slateNext];
      // Without a slate viewers keep the last frame; the time goes on all the same.
      if (next) {
        out.push({ track: 'video', at, key: next.key, units: next.units, from: 'slate' });
        this.slateNext = (this.slateNext + 1) % this.slate!.videoFrames.length;
      }
      this.lastVideoAt = at;
    }
  }

  private silenceTo(end: number, out: Spliced[]): void {
    for (; this.nextSlot * AAC_FRAME_SAMPLES <= end; this.nextSlot++) {
      const at = this.nextSlot * AAC_FRAME_SAMPLES;
      out.push({ track: 'audio', at, frame: this.silence, from: 'slate' });
    }
  }

  /** Hands on what waits, in order of time, as long as both tracks are there or one has waited long enough. */
  private drain(nowMs: number, out: Spliced[]): void {
    if (this.offset === null) return;
    for (;;) {
      const videoFrame = this.videoFrames[0];
      const slotAt = this.nextSlot * AAC_FRAME_SAMPLES;
      const at = videoFrame ? videoFrame.time + this.offset : Infinity;
      if (videoFrame && at < slotAt) {
        this.videoFrames.shift();
        this.emit(videoFrame, at, out);
        continue;
      }
      const audioFrame = this.audioForSlot();
      const waited =
        nowMs - Math.min(videoFrame?.arrivedMs ?? nowMs, this.audioFrames[0]?.arrivedMs ?? nowMs);
      const patient = waited < this.patienceMs;
      if (audioFrame && (videoFrame || !patient)) {
        this.audioFrames.shift();
        out.push({ track: 'audio', at: slotAt, frame: audioFrame.frame, from: 'source' });
      } else if (videoFrame && !audioFrame && (this.audioFrames.length > 0 || !patient)) {
        // Later audio is there, so this one will never come; or it takes too long.
        if (this.audioFrames.length === 0 && nowMs !== AT_ONCE) this.gaveUpAt ??= this.nextSlot;
        out.push({ track: 'audio', at: slotAt, frame: this.silence, from: 'slate' });
      } else return;
      this.nextSlot += 1;
    }
  }

  /** The audio that belongs into the next slot; null when it is not there (yet). Drops what comes too late. */
  private audioForSlot(): SourceAudioFrame | null {
    while (this.audioFrames.length > 0) {
      const slot = Math.round((this.audioFrames[0]!.time + this.offset!) / AAC_FRAME_SAMPLES);
      if (slot === this.nextSlot) return this.audioFrames[0]!;
      if (slot > this.nextSlot) return null;
      this.waitForSuch(slot);
      this.audioFrames.shift();
    }
    return null;
  }

  /** Audio has come for a slot that went without it: what follows takes as long. */
  private waitForSuch(slot: number): void {
    if (this.gaveUpAt === null || slot < this.gaveUpAt) return;
    const lateMs = ((this.nextSlot - slot) * AAC_FRAME_SAMPLES) / SAMPLES_PER_MS;
    this.patienceMs = Math.min(MOST_PATIENCE_MS, this.patienceMs + lateMs + MORE_PATIENCE_MS);
    this.gaveUpAt = null;
  }

  private emit(videoFrame: Arrived<SourceVideoFrame>, at: number, out: Spliced[]): void {
    if (this.lastVideoAt !== null && at <= this.lastVideoAt) return;
    out.push({ track: 'video', at, key: videoFrame.key, units: videoFrame.units, from: 'source' });
    this.lastVideoAt = at;
    this.anchor = { ms: videoFrame.arrivedMs, at };
  }
}
