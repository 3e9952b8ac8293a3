import { NAME_MAX } from '@juncta/core/shows';
import * as z from 'zod/mini';
import { endpoint, Id, line, Nothing, right } from '../http';
import { SettingValues } from './capabilities';

/** A named group of destinations with their settings, given to a show in one step. */
export const NamedRoute = z.object({
  id: Id,
  name: z.string(),
  /** In the order of the board. Destinations that were removed since are not among them. */
  destinations: z.array(z.object({ destinationId: Id, settings: SettingValues })),
});
export type NamedRoute = z.infer<typeof NamedRoute>;

const routes = z.object({ routes: z.array(NamedRoute) });
const routeParams = z.object({ routeId: Id });

export const listRoutes = endpoint({
  method: 'GET',
  path: '/api/routes',
  access: right('destinations.read'),
  params: Nothing,
  body: Nothing,
  response: routes,
});

/** Keeps the destinations of a show and their own settings under a name. A route with this id is written anew. */
export const saveRoute = endpoint({
  method: 'PUT',
  path: '/api/routes/:routeId',
  access: right('shows.edit'),
  params: routeParams,
  body: z.object({ name: line(NAME_MAX), showId: Id }),
  response: routes,
});

/** Forgets a route. Shows that it was given to keep what they have. */
export const removeRoute = endpoint({
  method: 'DELETE',
  path: '/api/routes/:routeId',
  access: right('shows.edit'),
  params: routeParams,
  body: Nothing,
  response: routes,
});

/**
 * Sends a show to exactly the destinations of a route, with the route's settings. Where something is booked or sent
 * and the route does not go, nothing is changed and it is said.
 */
export const applyRoute = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/route',
  access: right('shows.edit'),
  params: z.object({ showId: Id }),
  body: z.object({ routeId: Id }),
  response: z.object({ destinationIds: z.array(Id) }),
});
