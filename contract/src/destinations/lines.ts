import * as z from 'zod/mini';
import { endpoint, Id, Nothing, right } from '../http';
import { Destination } from './destinations';

const destinationParams = z.object({ destinationId: Id });

/**
 * Sends a few seconds of test pattern to a destination, to prove its address, key and limits. Where that would show
 * something to viewers it is refused; where nobody knows, `sure` has to be true. What was found is kept with the
 * destination.
 */
export const testLine = endpoint({
  method: 'POST',
  path: '/api/destinations/:destinationId/line-test',
  access: right('destinations.manage'),
  params: destinationParams,
  body: z.object({ sure: z.boolean() }),
  response: Destination,
});

/** The key of a destination that was added by address and key, for the few seconds it is looked at. */
export const revealKey = endpoint({
  method: 'POST',
  path: '/api/destinations/:destinationId/key',
  access: right('destinations.manage'),
  params: destinationParams,
  body: Nothing,
  response: z.object({ key: z.string() }),
});

/** One of the regions in which a place takes feeds. */
export const Region = z.object({
  region: z.string(),
  /** Round trip from the relay, ms; null: it did not answer in time. */
  roundTripMs: z.nullable(z.number()),
});
export type Region = z.infer<typeof Region>;

const regions = z.object({
  regions: z.array(Region),
  /** Chosen by a person; null: the nearest. */
  chosen: z.nullable(z.string()),
  /** By the last measuring; null: none was reached. */
  nearest: z.nullable(z.string()),
});

/** Measures the way to each region of a place, and remembers the nearest. */
export const measureRegions = endpoint({
  method: 'POST',
  path: '/api/destinations/:destinationId/regions',
  access: right('destinations.manage'),
  params: destinationParams,
  body: Nothing,
  response: regions,
});

export const chooseRegion = endpoint({
  method: 'PUT',
  path: '/api/destinations/:destinationId/region',
  access: right('destinations.manage'),
  params: destinationParams,
  /** Null: the nearest. */
  body: z.object({ region: z.nullable(z.string().check(z.maxLength(100))) }),
  response: Destination,
});
