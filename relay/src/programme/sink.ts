import type { ProgrammeFormat, ProgrammeTag, Spliced } from '@juncta/core/programme';
import type { FlvTag } from '@juncta/core/media/flv';

/** What of the source is being joined just now. */
export interface JoinedStream {
  readonly session: string;
  /** Where on the programme's timeline the 0 of its own clock lies, samples; null: nothing of it was joined yet. */
  readonly offset: number | null;
}

/** One frame of what viewers get. */
export interface Aired {
  readonly frame: Spliced;
  /** The same as a tag. */
  readonly tag: ProgrammeTag;
  readonly stream: JoinedStream | null;
  /** null: before the first frame. */
  readonly format: ProgrammeFormat | null;
}

/**
 * What drains a programme: its feeds, the recording, a drill. Each has its own pace and its own trouble; none may hold
 * up the programme, so `push` keeps what it cannot pass on, or leaves it out.
 */
export interface ProgrammeSink {
  /** The next frame, in order. */
  push(aired: Aired): void;
  /** To be called every few tens of ms. `nowMs` is a clock that never goes back. */
  tick(nowMs: number): void;
  /** For the end of the process: nothing is ended at the places, and what was recorded is whole. */
  close(): void | Promise<void>;
}

/** What a sink that begins late needs of the programme, and whom it tells. */
export interface ProgrammeHeads {
  /** Configuration for a receiver that begins at `timeMs`; null before there is a frame. */
  headers(timeMs: number): readonly FlvTag[] | null;
  /** The last group of pictures: what it begins with. */
  lastGroup(): readonly ProgrammeTag[];
  /** Something of the sink's report has changed. */
  changed(): void;
  /** A keyframe should come soon: somebody waits for one. */
  wantKeyframe(): void;
}
