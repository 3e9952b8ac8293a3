import { FEED_REASONS, FEED_STATES } from '@juncta/core/feeds';
import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, right } from '../http';
import { ProgrammeReport } from '../relay';

/** One line of a feed's log. */
export const FeedEventNoted = z.object({
  /** By the machine that runs the relay. */
  atMs: InstantMs,
  state: z.enum(FEED_STATES),
  reason: z.nullable(z.enum(FEED_REASONS)),
  placeSays: z.nullable(z.string()),
});
export type FeedEventNoted = z.infer<typeof FeedEventNoted>;

/** Figures of a feed at an instant. */
export const FeedSample = z.object({
  atMs: InstantMs,
  kbps: z.nullable(z.int()),
  leftOutFrames: z.int(),
  viewers: z.nullable(z.int()),
});
export type FeedSample = z.infer<typeof FeedSample>;

const params = z.object({ showId: Id, destinationId: Id });

/** What a place says of what it receives from us, in its own figures. */
export const PlaceHealth = z.object({
  /** Px; null: it does not know. */
  width: z.nullable(z.int()),
  height: z.nullable(z.int()),
  framesPerS: z.number(),
  /** Video and audio together. */
  kbps: z.int(),
  /** s from one keyframe to the next; null: it does not know. */
  keyframeS: z.nullable(z.number()),
  /** In its words. */
  warnings: z.array(z.string()),
});
export type PlaceHealth = z.infer<typeof PlaceHealth>;

/** What became of a feed, oldest first: each change of its state, and its figures every few seconds. */
export const readFeedHistory = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/feeds/:destinationId/history',
  access: right('desk.open'),
  params,
  body: Nothing,
  response: z.object({
    log: z.array(FeedEventNoted),
    samples: z.array(FeedSample),
    /** As the place said it last, while its feed goes on; null: it says nothing of the kind. */
    health: z.nullable(PlaceHealth),
  }),
});

/** The last picture that was sent to a place, JPEG; nothing where none was. */
export const feedStillPath = (showId: string, destinationId: string) =>
  `/api/shows/${showId}/feeds/${destinationId}/still`;

/** Starts the feed to one destination, and with the first one the show. */
export const startFeed = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/feeds/:destinationId/start',
  access: right('show.run'),
  params,
  body: Nothing,
  response: ProgrammeReport,
});

/** Makes public what a place receives and holds, and looks whether it is. */
export const publishFeed = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/feeds/:destinationId/publish',
  access: right('show.run'),
  params,
  body: Nothing,
  response: ProgrammeReport,
});

/** Ends the feed to one destination, in good order. The show goes on. */
export const stopFeed = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/feeds/:destinationId/stop',
  access: right('show.run'),
  params,
  body: Nothing,
  response: ProgrammeReport,
});
