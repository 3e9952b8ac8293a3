import { TAG } from '../media/flv/flv';
import type { ProgrammeTag } from '../programme';

/** Audio waits so long for video that is being encoded, ms of programme; then it goes on alone. */
export const MOST_WAIT_MS = 1500;
/** Video that is later than this is left out, up to a keyframe that is not: a receiver would take it for a broken stream. */
export const MOST_LATE_MS = 2500;

/**
 * Puts video that comes late from an encoder and the programme's own audio in one order of time. Video that comes too late
 * still rises by itself: each track of what comes out does, always, and none is ever far behind the other for long.
 */
export class TrackMerge {
  private audio: ProgrammeTag[] = [];
  private video: ProgrammeTag[] = [];
  private newestVideoMs = -Infinity;
  private outAudioMs = -Infinity;
  private waitsForKey = false;

  /** Encoded, in order. */
  pushVideo(tag: ProgrammeTag): readonly ProgrammeTag[] {
    if (tag.timeMs <= this.newestVideoMs) return [];
    if (this.outAudioMs - tag.timeMs > MOST_LATE_MS) this.waitsForKey = true;
    else if (tag.key) this.waitsForKey = false;
    if (this.waitsForKey) return [];
    this.newestVideoMs = tag.timeMs;
    this.video.push(tag);
    return this.out();
  }

  /** Of the programme, in order. */
  pushAudio(tag: ProgrammeTag): readonly ProgrammeTag[] {
    this.audio.push(tag);
    return this.out();
  }

  /** What can no longer be passed by anything, and what has waited long enough. */
  private out(): readonly ProgrammeTag[] {
    const newestAudioMs = this.audio.at(-1)?.timeMs ?? -Infinity;
    const ready: ProgrammeTag[] = [...this.video];
    this.video = [];
    const goes = this.audio.findIndex(
      ({ timeMs }) => timeMs > this.newestVideoMs && timeMs > newestAudioMs - MOST_WAIT_MS,
    );
    const audio = this.audio.splice(0, goes < 0 ? this.audio.length : goes);
    this.outAudioMs = audio.at(-1)?.timeMs ?? this.outAudioMs;
    ready.push(...audio);
    return ready.sort((a, b) => a.timeMs - b.timeMs || (a.kind === TAG.videoFrame ? -1 : 1));
  }
}
