import type { Slate, SourceVideoFrame, SourceAudioFrame } from '@juncta/core/programme';

/**
 * What feeds a programme: today the desk that composes the show. A source has a clock of its own, may come and go, and
 * hands over what it has by a {@link ProgrammeInput}, in order.
 */
export interface ProgrammeSource {
  /** Who sends just now, as reports name it; null: nobody. */
  readonly id: string | null;
  /** Over the last seconds. */
  readonly incomingKbps: number;
  /** Somebody begins to watch or to record: the next keyframe should come soon. */
  wantKeyframe(): void;
  /** Viewers see the slate because somebody wants it, or do so no more. */
  covered(on: boolean): void;
  /** To be called every few tens of ms. `nowMs` is a clock that never goes back. */
  tick(nowMs: number): void;
  close(): void;
}

/** One unbroken stretch of a source's clock. */
export interface SourceStream {
  /** Its name in the recording. */
  readonly session: string;
  readonly width: number;
  readonly height: number;
  readonly videoKbps: number;
}

/** Where a source hands over what it has. What comes in is shown in its turn: at once, or after the show's delay. */
export interface ProgrammeInput {
  /** The size that every stream has to have; null: not settled yet, or nothing goes out in it. */
  readonly size: { readonly width: number; readonly height: number } | null;
  /** A stream begins: times count from anew. */
  begin(stream: SourceStream): void;
  /** Something is missing: what follows can be shown from the next keyframe on. */
  gap(): void;
  /** The bytes may be used for something else afterwards. */
  takeVideo(frame: SourceVideoFrame): void;
  takeAudio(frame: SourceAudioFrame): void;
  /** What fills in while the source is away, from now on. */
  slate(slate: Slate): void;
}
