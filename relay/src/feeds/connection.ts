import type { FlvTag } from '@juncta/core/media/flv';
import type { PublisherEvent } from '@juncta/core/media/rtmp';

/** From dialling to the place's yes. */
export const ANSWER_PATIENCE_MS = 10_000;

/** What comes of a connection. After `lost` or a refusal nothing more comes. */
export type ConnectionEvent =
  | PublisherEvent
  /** It can only be made with something to send: the programme goes into it before the place has said yes. */
  | { readonly type: 'wants_programme' }
  | { readonly type: 'lost'; readonly reason: 'lost_connection' | 'no_answer'; readonly why: string };

/** One connection to one place, whatever it speaks. */
export interface FeedConnection {
  /** How many more bytes it takes just now. */
  readonly room: number;
  /** Bytes that were taken from here since the beginning. */
  readonly sentBytes: number;
  /** Sends tags with their times moved by `-zeroMs`: each feed begins at 0. */
  send(tags: readonly FlvTag[], zeroMs: number): void;
  /** To be called now and then: notices a place that has stopped reading. */
  watch(nowMs: number): void;
  /** Ends it: in good order, which may end the show at the place, or as if the line had broken. */
  hangUp(clean: boolean): void;
}
