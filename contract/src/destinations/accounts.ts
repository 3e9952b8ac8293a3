import * as z from 'zod/mini';
import { NAME_MAX } from '@juncta/core/shows';
import { TILE_PATTERNS } from '@juncta/core/destinations';
import { endpoint, Id, InstantMs, line, Nothing, right } from '../http';
import { Destination, DESTINATION_KINDS, TileCode } from './destinations';

/** An account at a place, whose owner has let us in. Its tokens are never told. */
export const PlaceAccount = z.object({
  id: Id,
  kind: z.enum(DESTINATION_KINDS),
  /** The place's name, and what its owner let us do there. */
  place: z.string(),
  name: z.string(),
  scopes: z.array(z.string()),
  /** The widest visibility that was allowed when it was connected; null: the place does not ask. */
  widest: z.nullable(z.string()),
  /** `lost`: it was taken back or ran out; connecting again keeps everything that hangs on it. */
  state: z.enum(['good', 'lost']),
  connectedAtMs: InstantMs,
});
export type PlaceAccount = z.infer<typeof PlaceAccount>;

export const listAccounts = endpoint({
  method: 'GET',
  path: '/api/accounts',
  access: right('destinations.read'),
  params: Nothing,
  body: Nothing,
  response: z.object({
    accounts: z.array(PlaceAccount),
    /** Places whose accounts can be connected from this house. */
    places: z.array(z.object({ kind: z.enum(DESTINATION_KINDS), place: z.string() })),
  }),
});

/**
 * Begins to connect an account: gives the address of the place's own page, where its owner decides. The browser comes
 * back to `/destinations`. With `accountId` the same account is connected again, and keeps its destinations.
 */
export const beginConnecting = endpoint({
  method: 'POST',
  path: '/api/accounts/connecting',
  access: right('destinations.manage'),
  params: Nothing,
  body: z.object({ kind: z.enum(DESTINATION_KINDS), accountId: z.nullable(Id) }),
  response: z.object({ url: z.string() }),
});

const accountParams = z.object({ accountId: Id });

/** Where in an account a show can be, as the place says it now. */
export const Placement = z.object({
  id: z.string(),
  kind: z.string(),
  name: z.string(),
  /** What is missing before anything can be there, and how to get it, in the place's words; null: nothing. */
  missing: z.nullable(z.string()),
  /** The destination that it is already; null: none. */
  destinationId: z.nullable(Id),
});
export type Placement = z.infer<typeof Placement>;

export const readPlacements = endpoint({
  method: 'GET',
  path: '/api/accounts/:accountId/placements',
  access: right('destinations.manage'),
  params: accountParams,
  body: Nothing,
  response: z.object({ placements: z.array(Placement) }),
});

/** Makes a destination of a placement. Asked twice with one id, it is made once. */
export const addPlacement = endpoint({
  method: 'POST',
  path: '/api/accounts/:accountId/destinations',
  access: right('destinations.manage'),
  params: accountParams,
  body: z.object({
    id: Id,
    placementId: z.string().check(z.maxLength(200)),
    name: line(NAME_MAX),
    code: TileCode,
    pattern: z.enum(TILE_PATTERNS),
  }),
  response: Destination,
});

/**
 * Forgets an account with its destinations. With `sure` false nothing is done where shows that are still to come go
 * there, and they are named.
 */
export const disconnectAccount = endpoint({
  method: 'POST',
  path: '/api/accounts/:accountId/disconnect',
  access: right('destinations.manage'),
  params: accountParams,
  body: z.object({ sure: z.boolean() }),
  response: z.object({
    done: z.boolean(),
    shows: z.array(z.object({ id: Id, title: z.string() })),
  }),
});
