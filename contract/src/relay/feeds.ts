import { FEED_STATES } from '@juncta/core/relay';
import * as z from 'zod/mini';
import { Id, InstantMs } from '../http';

export const FeedStateName = z.enum(FEED_STATES);

export const FEED_REASONS = [
  'lost_connection',
  'no_answer',
  'refused_key',
  'refused_busy',
  'refused_format',
  'refused_other',
  'gave_up',
  'ended_by_us',
  'ended_by_place',
] as const;

/** One line of a feed's log. */
export const FeedEventNoted = z.object({
  /** By the machine that runs the relay. */
  atMs: InstantMs,
  state: FeedStateName,
  reason: z.nullable(z.enum(FEED_REASONS)),
  placeSays: z.nullable(z.string()),
});
export type FeedEventNoted = z.infer<typeof FeedEventNoted>;

/** Figures of a feed at an instant. */
export const FeedSample = z.object({
  atMs: InstantMs,
  kbps: z.nullable(z.int()),
  leftOutPictures: z.int(),
  viewers: z.nullable(z.int()),
});
export type FeedSample = z.infer<typeof FeedSample>;

/** A feed as the relay reports it: one row of the board. */
export const FeedReport = z.object({
  destinationId: Id,
  state: FeedStateName,
  /** Since when, by the machine that runs the relay. */
  sinceMs: InstantMs,
  /** Tries since the connection last stood; 0 while it stands. */
  attempt: z.int(),
  /** Null while there is nothing to explain. */
  reason: z.nullable(z.enum(FEED_REASONS)),
  /** What the place itself said, without keys; null when it said nothing. */
  placeSays: z.nullable(z.string()),
  /** What the place took over the last seconds; null while nothing is sent. */
  bitrateKbps: z.nullable(z.int()),
  /** ms since the picture first was public there; null when it never was. Stands still once the feed is over. */
  onAirMs: z.nullable(z.int()),
  /** Pictures left out because the place took too little, since the feed was started. */
  leftOutPictures: z.int(),
});
export type FeedReport = z.infer<typeof FeedReport>;
