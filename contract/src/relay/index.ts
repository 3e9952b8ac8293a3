import { FEED_STATES, MAX_PAYLOAD_BYTES } from '@juncta/core/relay';
import * as z from 'zod/mini';
import { Id, InstantMs } from '../http';

export const FeedStateName = z.enum(FEED_STATES);

/** A feed as the relay reports it: one row of the board. */
export const FeedReport = z.object({
  destinationId: Id,
  state: FeedStateName,
  /** Since when, by the machine that runs the relay. */
  sinceMs: InstantMs,
  /** Tries since the connection last stood; 0 while it stands. */
  attempt: z.int(),
  /** Why, for a program; null while there is nothing to explain. */
  reason: z.nullable(z.string()),
  /** What the place itself said, without keys; null when it said nothing. */
  placeSays: z.nullable(z.string()),
  bitrateKbps: z.nullable(z.number()),
});
export type FeedReport = z.infer<typeof FeedReport>;

/**
 * The pieces' socket. The desk opens it to the relay with a ticket that the server gave it, sends binary
 * messages of one or more pieces (format: `piece.ts` in core), and gets these answers as JSON. `acknowledged`
 * means: on disk. A piece that comes twice is acknowledged twice and kept once.
 */
export const PieceAnswer = z.discriminatedUnion('type', [
  z.object({ type: z.literal('acknowledged'), lane: z.enum(['live', 'backlog']), number: z.int() }),
  z.object({ type: z.literal('refused'), code: z.string(), sentence: z.string() }),
]);
export type PieceAnswer = z.infer<typeof PieceAnswer>;

/** A message of pieces may be this long: one of the longest and room for the sound beside it. */
export const MAX_MESSAGE_BYTES = MAX_PAYLOAD_BYTES + 256 * 1024;
