import { TAG } from '../media/flv/flv';
import type { ProgrammeTag } from '../programme';

/** Audio waits so long for video that is being encoded, ms of programme; then it goes on alone. */
export const MOST_WAIT_MS = 1500;

/**
 * Puts video that comes late from an encoder and the programme's own audio in one order of time. Video that comes too late
 * still rises by itself: each track of what comes out does, always.
 */
export class TrackMerge {
  private audio: ProgrammeTag[] = [];
  private video: ProgrammeTag[] = [];
  private newestVideoMs = -Infinity;

  /** Encoded, in order. */
  pushVideo(tag: ProgrammeTag): readonly ProgrammeTag[] {
    if (tag.timeMs <= this.newestVideoMs) return [];
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
    ready.push(...this.audio.splice(0, goes < 0 ? this.audio.length : goes));
    return ready.sort((a, b) => a.timeMs - b.timeMs || (a.kind === TAG.videoFrame ? -1 : 1));
  }
}
