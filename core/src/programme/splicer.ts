import { SAMPLE_RATE_HZ, SAMPLES_PER_FRAME } from './programme-clock';
import { AAC_FRAME_SAMPLES } from '../media/audio/adts';

/**
 * The splicer: one unbroken timeline out of sources that come and go. It hands on the source's pictures and sound,
 * fills with the standby slate and silence while there is none, and joins each source at one of its keyframes.
 *
 * Time is counted in samples of 48 kHz. On the timeline, sound stands on a grid of {@link AAC_FRAME_SAMPLES} without
 * a gap, pictures are strictly later than those before them, and nothing is said twice. Where a source lands on the
 * timeline follows the relay's clock, so that after a break viewers are as far behind as they were before.
 *
 * No clock of its own and no input or output: what comes in carries `nowMs`, a clock that never goes back.
 */
export interface SourcePicture {
  /** Samples on the source's own clock. */
  readonly time: number;
  readonly key: boolean;
  readonly units: readonly Uint8Array[];
}

export interface SourceSound {
  readonly time: number;
  /** One AAC frame of {@link AAC_FRAME_SAMPLES}. */
  readonly frame: Uint8Array;
}

/** What fills in: a closed group of pictures that is repeated, made by the same encoder as the show's own. */
export interface Slate {
  readonly pictures: readonly Pick<SourcePicture, 'key' | 'units'>[];
}

export interface SplicedPicture {
  readonly track: 'picture';
  readonly at: number;
  readonly key: boolean;
  readonly units: readonly Uint8Array[];
  readonly from: 'source' | 'slate';
}
export interface SplicedSound {
  readonly track: 'sound';
  readonly at: number;
  readonly frame: Uint8Array;
  readonly from: 'source' | 'slate';
}
export type Spliced = SplicedPicture | SplicedSound;

/** `waiting`: nothing has come yet. `covered`: the slate, because somebody wants it. */
export const PROGRAMME_STATES = ['waiting', 'source', 'slate', 'covered'] as const;
export type ProgrammeState = (typeof PROGRAMME_STATES)[number];

/** A source that has sent no picture for so long is taken to be away. Networks pause for less all the time. */
export const SLATE_AFTER_MS = 1000;
/** Pictures wait so long for their sound, which takes the longer way; then they go with silence. */
export const PATIENCE_MS = 400;
/** How far from where the clock wants it a returning source may land by its own time. */
const NEAR_SAMPLES = 1.5 * SAMPLE_RATE_HZ;
const SAMPLES_PER_MS = SAMPLE_RATE_HZ / 1000;
/** Sound that comes before its source is joined is kept for about a second. */
const EARLY_SOUNDS = 48;

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
  private pictures: Arrived<SourcePicture>[] = [];
  private sounds: Arrived<SourceSound>[] = [];
  private lastSourceTime = -1;
  private lastArrivalMs = 0;
  /** Where the last picture stands; null before the first. */
  private lastPicture: number | null;
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
    this.lastPicture = startAt > 0 ? this.nextSlot * AAC_FRAME_SAMPLES : null;
  }

  get state(): ProgrammeState {
    return this.mode;
  }

  /** Where the timeline has come to, in samples. */
  get at(): number {
    return this.lastPicture ?? 0;
  }

  /** From a source's time to the timeline; null before the present source is joined. */
  get sourceOffset(): number | null {
    return this.offset;
  }

  useSlate(slate: Slate): void {
    this.slate = slate;
    this.slateNext = 0;
  }

  /** Another source begins, with a clock of its own. What the last one still had under way is let go. */
  newSource(): void {
    this.offset = null;
    this.lastSourceTime = -1;
    this.pictures = [];
    this.sounds = [];
    this.joined = false;
  }

  /** Pictures are missing: those to come cannot be shown before the next keyframe. */
  gap(): void {
    this.joined = false;
  }

  /** Shows the slate whatever comes, from the next picture on; or takes it away again at the next keyframe. */
  cover(on: boolean, nowMs: number): void {
    if (on === (this.mode === 'covered')) return;
    if (on) {
      this.beginSlate('covered', nowMs);
      this.pictures = [];
      this.sounds = [];
    } else {
      this.mode = this.lastPicture === null ? 'waiting' : 'slate';
    }
    this.joined = false;
  }

  picture(picture: SourcePicture, nowMs: number): Spliced[] {
    if (picture.time <= this.lastSourceTime) return [];
    const out: Spliced[] = [];
    if (!this.joined) {
      if (!picture.key || this.mode === 'covered') return [];
      this.join(picture, nowMs, out);
    }
    this.lastSourceTime = picture.time;
    this.lastArrivalMs = nowMs;
    this.pictures.push({ ...picture, arrivedMs: nowMs });
    this.drain(nowMs, out);
    return out;
  }

  sound(sound: SourceSound, nowMs: number): Spliced[] {
    const out: Spliced[] = [];
    this.sounds.push({ ...sound, arrivedMs: nowMs });
    if (this.joined) this.drain(nowMs, out);
    else if (this.sounds.length > EARLY_SOUNDS) this.sounds.shift();
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
      this.anchor = { ms: fromMs, at: this.lastPicture ?? 0 };
      this.slateNext = 0;
    }
    this.mode = this.lastPicture === null && mode === 'slate' ? 'waiting' : mode;
  }

  /** Decides where the source lands, and fills up to there. */
  private join(picture: SourcePicture, nowMs: number, out: Spliced[]): void {
    const soonest = this.lastPicture === null ? 0 : this.lastPicture + SAMPLES_PER_FRAME;
    const wanted = this.lastPicture === null ? soonest : Math.max(soonest, this.clockAt(nowMs));
    const kept = this.offset === null ? null : picture.time + this.offset;
    const at = kept !== null && kept >= soonest && Math.abs(kept - wanted) <= NEAR_SAMPLES ? kept : wanted;
    // What of the last stretch still waited comes first.
    if (this.mode === 'source') this.drain(AT_ONCE, out);
    else if (this.mode !== 'waiting') this.fillTo(at - SAMPLES_PER_FRAME, out);
    this.offset = at - picture.time;
    this.pictures = [];
    this.joined = true;
    this.mode = 'source';
    if (this.lastPicture === null) this.anchor = { ms: nowMs, at };
  }

  /** The slate and its silence, up to a place on the timeline (included). */
  private fillTo(end: number, out: Spliced[]): void {
    for (;;) {
      const at = this.lastPicture === null ? this.anchor.at : this.lastPicture + SAMPLES_PER_FRAME;
      if (at > end) return;
      this.silenceTo(at, out);
      const next = this.slate?.pictures[this.slateNext];
      // Without a slate viewers keep the last picture; the time goes on all the same.
      if (next) {
        out.push({ track: 'picture', at, key: next.key, units: next.units, from: 'slate' });
        this.slateNext = (this.slateNext + 1) % this.slate!.pictures.length;
      }
      this.lastPicture = at;
    }
  }

  private silenceTo(end: number, out: Spliced[]): void {
    for (; this.nextSlot * AAC_FRAME_SAMPLES <= end; this.nextSlot++) {
      const at = this.nextSlot * AAC_FRAME_SAMPLES;
      out.push({ track: 'sound', at, frame: this.silence, from: 'slate' });
    }
  }

  /** Hands on what waits, in order of time, as long as both tracks are there or one has waited long enough. */
  private drain(nowMs: number, out: Spliced[]): void {
    if (this.offset === null) return;
    for (;;) {
      const picture = this.pictures[0];
      const slotAt = this.nextSlot * AAC_FRAME_SAMPLES;
      const at = picture ? picture.time + this.offset : Infinity;
      if (picture && at < slotAt) {
        this.pictures.shift();
        this.emit(picture, at, out);
        continue;
      }
      const sound = this.soundForSlot();
      const waited = nowMs - Math.min(picture?.arrivedMs ?? nowMs, this.sounds[0]?.arrivedMs ?? nowMs);
      const patient = waited < PATIENCE_MS;
      if (sound && (picture || !patient)) {
        this.sounds.shift();
        out.push({ track: 'sound', at: slotAt, frame: sound.frame, from: 'source' });
      } else if (picture && !sound && (this.sounds.length > 0 || !patient)) {
        // Later sound is there, so this one will never come; or it takes too long.
        out.push({ track: 'sound', at: slotAt, frame: this.silence, from: 'slate' });
      } else return;
      this.nextSlot += 1;
    }
  }

  /** The sound that belongs into the next slot; null when it is not there (yet). Drops what comes too late. */
  private soundForSlot(): SourceSound | null {
    while (this.sounds.length > 0) {
      const slot = Math.round((this.sounds[0]!.time + this.offset!) / AAC_FRAME_SAMPLES);
      if (slot === this.nextSlot) return this.sounds[0]!;
      if (slot > this.nextSlot) return null;
      this.sounds.shift();
    }
    return null;
  }

  private emit(picture: Arrived<SourcePicture>, at: number, out: Spliced[]): void {
    if (this.lastPicture !== null && at <= this.lastPicture) return;
    out.push({ track: 'picture', at, key: picture.key, units: picture.units, from: 'source' });
    this.lastPicture = at;
    this.anchor = { ms: picture.arrivedMs, at };
  }
}
