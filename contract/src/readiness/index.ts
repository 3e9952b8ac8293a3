import * as z from 'zod/mini';
import { Destination } from '../destinations';
import { endpoint, Id, Nothing, right } from '../http';
import { Clash, Listing } from '../listings';

/** What the readiness of every show follows from that is neither over nor put away; for the board. */
export const readPlannedListings = endpoint({
  method: 'GET',
  path: '/api/planned-listings',
  access: right('shows.read'),
  params: Nothing,
  body: Nothing,
  response: z.object({
    destinations: z.array(Destination),
    shows: z.array(z.object({ showId: Id, listings: z.array(Listing), clashes: z.array(Clash) })),
    /** The last event of the stream `destinations` that is contained. */
    seq: z.int(),
  }),
});
export type PlannedListings = z.infer<typeof readPlannedListings.response>;
