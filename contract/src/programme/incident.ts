import * as z from 'zod/mini';
import { endpoint, Id, InstantMs, Nothing, right } from '../http';
import { FeedEventNoted, FeedSample } from '../feeds';
import { ProgrammeReport } from '../relay';

/** All that is known of a bad night, in one file, for whoever has to find out what went wrong. No secrets are in it. */
export const Incident = z.object({
  format: z.literal('juncta.incident'),
  madeAtMs: InstantMs,
  show: z.object({
    id: Id,
    title: z.string(),
    startedAtMs: z.nullable(InstantMs),
    endedAtMs: z.nullable(InstantMs),
  }),
  /** Null: the relay does not answer. */
  programme: z.nullable(ProgrammeReport),
  feeds: z.array(
    z.object({
      destination: z.object({ id: Id, name: z.string(), place: z.string(), address: z.string() }),
      listing: z.object({ state: z.string(), problem: z.nullable(z.string()) }),
      log: z.array(FeedEventNoted),
      samples: z.array(FeedSample),
    }),
  ),
  /** The last lines of the server's log, oldest first; each an object as it was written. */
  log: z.array(z.unknown()),
});
export type Incident = z.infer<typeof Incident>;

export const readIncident = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/incident',
  access: right('show.run'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: Incident,
});
