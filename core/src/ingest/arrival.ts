import type { SequenceFigures } from '../media/h264/sequence';
import type { AudioCodec, VideoCodec } from '../media/flv/media-tag';
import { SILENT_FRAME_BYTES } from '../programme/silence-detector';

/** What an outside encoder sends, as far as it is known. */
export interface ArrivalFigures {
  readonly video: VideoFigures | null;
  readonly audio: AudioFigures | null;
  /** How often nothing came for {@link GAP_MS} in the last minute. */
  readonly gaps: number;
  /** How often its clock jumped. */
  readonly jumps: number;
}

export interface VideoFigures {
  readonly codec: VideoCodec;
  /** It came as this, and was made H.264 at the door; null: it is as it came. */
  readonly madeFrom: VideoCodec | null;
  /** Of H.264 only; null: not known yet, or of another codec. */
  readonly sequence: Pick<
    SequenceFigures,
    'profileIdc' | 'levelIdc' | 'width' | 'height' | 'chroma' | 'bitDepth' | 'isInterlaced'
  > | null;
  /** Its parameters came, and cannot be read. */
  readonly isUnreadable: boolean;
  /** Frames a second, over the last seconds; null: too few came. */
  readonly rateHz: number | null;
  /** Its frames do not come at even steps. */
  readonly isVariable: boolean;
  /** s between the last two keyframes, or since the last one where that is longer; null: only one came, a moment ago. */
  readonly keyframeS: number | null;
  /** Frames are shown in another order than they come. */
  readonly isReordered: boolean;
  readonly kbps: number;
  /** How much later than the quickest of its frames the slowest came, ms, over the last seconds. */
  readonly lateMs: number;
}

export interface AudioFigures {
  readonly codec: AudioCodec;
  /** Null: not known. */
  readonly rateHz: number | null;
  readonly channels: number | null;
  readonly kbps: number;
  /** Nothing but silence for some seconds. */
  readonly isSilent: boolean;
}

/** A frame of either track as it came. */
interface Came {
  readonly atMs: number;
  readonly nowMs: number;
  readonly bytes: number;
}

const WINDOW_MS = 5000;
/** Fewer say nothing of the rate. */
const LEAST_FRAMES = 15;
/** Nothing for this long is a gap. */
export const GAP_MS = 500;
const GAPS_OVER_MS = 60_000;
/** A step may differ by so much from the usual one: encoders round to whole ms, and leave one out now and then. */
const EVEN_MS = 6;
/** So many of the steps may be uneven. */
const EVEN_SHARE = 0.1;
const SILENT_MS = 3000;
/** What waited for the line to stand comes all at once, and says nothing of how the rest comes. */
const SETTLING_MS = 2000;

/** Measures what comes in, over the last seconds. Times from outside; nothing in it grows with the show. */
export class Arrival {
  private readonly video: Came[] = [];
  private readonly audio: Came[] = [];
  private videoCodec: VideoCodec | null = null;
  private madeFrom: VideoCodec | null = null;
  private audioCodec: AudioCodec | null = null;
  private sequence: VideoFigures['sequence'] = null;
  private isUnreadable = false;
  private aac: { rateHz: number; channels: number } | null = null;
  private keyframeAtMs: number | null = null;
  private keyframeMs: number | null = null;
  private reorderedNowMs = -Infinity;
  private heardNowMs: number | null = null;
  private beganNowMs: number | null = null;
  private lastNowMs: number | null = null;
  private gapsNowMs: number[] = [];
  jumps = 0;

  /**
   * @param sequence of H.264; `unreadable`: it came damaged, or in a form that nobody uses
   * @param madeFrom what it was before it was made H.264 at the door
   */
  videoIs(
    codec: VideoCodec,
    sequence: VideoFigures['sequence'] | 'unreadable',
    madeFrom: VideoCodec | null = null,
  ): void {
    this.videoCodec = codec;
    this.madeFrom = madeFrom;
    this.isUnreadable = sequence === 'unreadable';
    this.sequence = sequence === 'unreadable' ? null : sequence;
  }

  audioIs(codec: AudioCodec, aac: { readonly rateHz: number; readonly channels: number } | null): void {
    this.audioCodec = codec;
    this.aac = aac;
  }

  takeVideo(frame: Came & { readonly key: boolean; readonly laterMs: number }): void {
    this.note(this.video, frame);
    if (frame.laterMs !== 0) this.reorderedNowMs = frame.nowMs;
    if (!frame.key) return;
    if (this.keyframeAtMs !== null) this.keyframeMs = frame.atMs - this.keyframeAtMs;
    this.keyframeAtMs = frame.atMs;
  }

  takeAudio(frame: Came): void {
    this.heardNowMs ??= frame.nowMs;
    if (this.audioCodec !== 'aac' || frame.bytes > SILENT_FRAME_BYTES) this.heardNowMs = frame.nowMs;
    this.note(this.audio, frame);
  }

  figures(nowMs: number): ArrivalFigures {
    for (const track of [this.video, this.audio]) forget(track, nowMs);
    this.gapsNowMs = this.gapsNowMs.filter((at) => nowMs - at < GAPS_OVER_MS);
    return {
      video: this.videoCodec && this.video.length > 0 ? this.videoFigures(this.videoCodec, nowMs) : null,
      audio: this.audioCodec && this.audio.length > 0 ? this.audioFigures(this.audioCodec, nowMs) : null,
      gaps: this.gapsNowMs.length,
      jumps: this.jumps,
    };
  }

  private videoFigures(codec: VideoCodec, nowMs: number): VideoFigures {
    const { video } = this;
    const times = video.map(({ atMs }) => atMs).sort((a, b) => a - b);
    const spanMs = times.at(-1)! - times[0]!;
    const isKnown = times.length >= LEAST_FRAMES && spanMs > 0;
    const sinceKeyMs = this.keyframeAtMs === null ? spanMs : times.at(-1)! - this.keyframeAtMs;
    const keyframeMs = Math.max(this.keyframeMs ?? 0, sinceKeyMs > GAP_MS ? sinceKeyMs : 0);
    return {
      codec,
      madeFrom: this.madeFrom,
      sequence: this.sequence,
      isUnreadable: this.isUnreadable,
      rateHz: isKnown ? round(((times.length - 1) * 1000) / spanMs, 2) : null,
      isVariable: isKnown && isUneven(times),
      keyframeS: keyframeMs > 0 ? round(keyframeMs / 1000, 1) : null,
      isReordered: nowMs - this.reorderedNowMs < WINDOW_MS,
      kbps: kbpsOf(video),
      lateMs: lateness(video.filter(({ nowMs }) => nowMs - this.beganNowMs! > SETTLING_MS)),
    };
  }

  private audioFigures(codec: AudioCodec, nowMs: number): AudioFigures {
    return {
      codec,
      rateHz: this.aac?.rateHz ?? null,
      channels: this.aac?.channels ?? null,
      kbps: kbpsOf(this.audio),
      isSilent: nowMs - (this.heardNowMs ?? nowMs) > SILENT_MS,
    };
  }

  private note(track: Came[], { atMs, nowMs, bytes }: Came): void {
    this.beganNowMs ??= nowMs;
    if (this.lastNowMs !== null && nowMs - this.lastNowMs > GAP_MS) this.gapsNowMs.push(nowMs);
    this.lastNowMs = nowMs;
    track.push({ atMs, nowMs, bytes });
    forget(track, nowMs);
  }
}

function forget(track: Came[], nowMs: number): void {
  const from = track.findIndex((one) => nowMs - one.nowMs <= WINDOW_MS);
  track.splice(0, from < 0 ? track.length : from);
}

function isUneven(times: readonly number[]): boolean {
  const steps = times.slice(1).map((at, i) => at - times[i]!);
  const usual = steps.toSorted((a, b) => a - b)[steps.length >> 1]!;
  return steps.filter((step) => Math.abs(step - usual) > EVEN_MS).length > steps.length * EVEN_SHARE;
}

function lateness(track: readonly Came[]): number {
  if (track.length === 0) return 0;
  const late = track.map(({ atMs, nowMs }) => nowMs - atMs);
  return Math.round(Math.max(...late) - Math.min(...late));
}

function kbpsOf(track: readonly Came[]): number {
  const spanMs = track.at(-1)!.nowMs - track[0]!.nowMs;
  if (spanMs < 500) return 0;
  // The first one's bytes came before the span begins.
  const bytes = track.slice(1).reduce((sum, one) => sum + one.bytes, 0);
  return Math.round((bytes * 8) / spanMs);
}

const round = (value: number, digits: number): number => Math.round(value * 10 ** digits) / 10 ** digits;
