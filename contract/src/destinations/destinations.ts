import { NAME_MAX } from '@juncta/core/shows';
import { TILE_CODE, TILE_PATTERNS } from '@juncta/core/destinations';
import * as z from 'zod/mini';
import { EncoderLimit, HouseRules } from './capabilities';
import { endpoint, Id, InstantMs, line, Nothing, right } from '../http';

/** How a destination is reached. What each can do is said by its capabilities, not by its kind. */
export const DESTINATION_KINDS = ['custom_rtmp', 'emberplay', 'kitefield', 'porchway', 'guildroad'] as const;

/** What a few seconds of test pattern found out about the line to a destination. */
export const LineTest = z.object({
  atMs: InstantMs,
  /** The place took our stream, to the end. */
  good: z.boolean(),
  /** What happened, for a person, and what to do. */
  sentence: z.string(),
  /** Round trip of the connection, ms; null: it did not stand. */
  roundTripMs: z.nullable(z.number()),
  /** What the place took; null: nothing. */
  kbps: z.nullable(z.int()),
});
export type LineTest = z.infer<typeof LineTest>;

/** A place outside that carries shows: one account and one placement in it. Its key is never told. */
export const Destination = z.object({
  id: Id,
  name: z.string(),
  /** Two letters on its tile. */
  code: z.string(),
  pattern: z.enum(TILE_PATTERNS),
  kind: z.enum(DESTINATION_KINDS),
  /** Where it is: the server's address, or the address of the place's API; without any key. */
  address: z.string(),
  /** Its public page; null when it has none that we know of. */
  pageUrl: z.nullable(z.string()),
  /** Whether somebody can look from outside if viewers see it. */
  canBeSeen: z.boolean(),
  /** Whether its event can be ended from here. */
  endsByApi: z.boolean(),
  /** The account it belongs to; null: it is reached by server address and key. */
  accountId: z.nullable(Id),
  /** Where in that account; null with the account. */
  placement: z.nullable(z.object({ id: z.string(), kind: z.string(), name: z.string() })),
  /** What it allows, as far as we know. */
  rules: HouseRules,
  /** The last test of the line; null: none yet. */
  lineTest: z.nullable(LineTest),
  /** What it takes at most, where somebody has said so; `rules` have it, too. */
  encoderLimit: z.nullable(EncoderLimit),
  /** Where feeds go in, at places that have regions; null: the nearest. */
  region: z.nullable(z.string()),
});
export type Destination = z.infer<typeof Destination>;

export const TileCode = z.pipe(
  z.pipe(
    z.string().check(z.maxLength(20)),
    z.transform((text: string) => text.trim().toUpperCase()),
  ),
  z.string().check(z.regex(TILE_CODE)),
);

/** What a person gives to add one by server address and stream key. */
export const CustomTarget = z.object({
  id: Id,
  name: line(NAME_MAX),
  code: TileCode,
  pattern: z.enum(TILE_PATTERNS),
  /** `rtmp(s)://host[:port]/app`, or the whole with the key at its end. */
  address: line(2000),
  /** Empty when the address holds it. */
  key: z.string().check(z.maxLength(2000)),
  /** The public page; empty when there is none. */
  pageUrl: line(2000, 0),
});
export type CustomTarget = z.infer<typeof CustomTarget>;

export const listDestinations = endpoint({
  method: 'GET',
  path: '/api/destinations',
  access: right('destinations.read'),
  params: Nothing,
  body: Nothing,
  response: z.object({
    destinations: z.array(Destination),
    /** The last event of the stream `destinations` that is contained. */
    seq: z.int(),
  }),
});

/** Adds a destination by address and key. Asked twice with one id, it is added once. */
export const addDestination = endpoint({
  method: 'POST',
  path: '/api/destinations',
  access: right('destinations.manage'),
  params: Nothing,
  body: CustomTarget,
  response: Destination,
});

/** Says what one that is reached by address and key takes at most; null: nobody knows. */
export const setEncoderLimit = endpoint({
  method: 'PUT',
  path: '/api/destinations/:destinationId/limit',
  access: right('destinations.manage'),
  params: z.object({ destinationId: Id }),
  body: z.object({ limit: z.nullable(EncoderLimit) }),
  response: Destination,
});

/** Takes one away from the list and from all shows that are not on air. Its key is forgotten. */
export const removeDestination = endpoint({
  method: 'DELETE',
  path: '/api/destinations/:destinationId',
  access: right('destinations.manage'),
  params: z.object({ destinationId: Id }),
  body: Nothing,
  response: Nothing,
});

/** Which destinations a show goes to, in the order of the board. */
export const setShowDestinations = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/destinations',
  access: right('shows.edit'),
  params: z.object({ showId: Id }),
  body: z.object({ destinationIds: z.array(Id).check(z.maxLength(50)) }),
  response: z.object({ destinationIds: z.array(Id) }),
});
