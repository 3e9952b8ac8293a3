import {
  applyRoute,
  listRoutes,
  removeRoute,
  saveRoute,
  type NamedRoute,
} from '@juncta/contract/destinations';
import { and, asc, eq, isNull, ne } from 'drizzle-orm';
import type { Router } from 'express';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { badInput, notFound } from '../http/errors';
import { mount } from '../http/mount';
import { changeListing, listingsOf } from '../listings/store';
import { findShow } from '../shows/store';
import { sendShowTo, tellChosen } from './routes';
import { destination, namedRoute, routeDestination } from './schema';

/** Named groups of destinations with their settings. */
export function mountNamedRoutes(router: Router, app: App): void {
  mount(router, app, listRoutes, async () => ({ routes: await routesOf(app.db) }));

  mount(router, app, saveRoute, ({ params: { routeId }, body }) =>
    app.db.transaction(async (tx) => {
      if (!(await findShow(tx, body.showId))) throw notFound('show');
      const [taken] = await tx
        .select()
        .from(namedRoute)
        .where(and(eq(namedRoute.name, body.name), ne(namedRoute.id, routeId)));
      if (taken)
        throw badInput([
          { field: 'name', code: 'taken', sentence: `There is a route called ${body.name} already.` },
        ]);
      const { name } = body;
      await tx
        .insert(namedRoute)
        .values({ id: routeId, name })
        .onConflictDoUpdate({ target: namedRoute.id, set: { name } });
      await tx.delete(routeDestination).where(eq(routeDestination.routeId, routeId));
      const listings = await listingsOf(tx, body.showId);
      if (listings.length > 0)
        await tx.insert(routeDestination).values(
          listings.map(({ destinationId, settings }, position) => ({
            routeId,
            destinationId,
            position,
            settings,
          })),
        );
      return { routes: await routesOf(tx) };
    }),
  );

  mount(router, app, removeRoute, async ({ params: { routeId } }) => {
    await app.db.delete(namedRoute).where(eq(namedRoute.id, routeId));
    return { routes: await routesOf(app.db) };
  });

  mount(router, app, applyRoute, ({ params: { showId }, body: { routeId } }) =>
    app.db.transaction(async (tx) => {
      const route = (await routesOf(tx)).find(({ id }) => id === routeId);
      if (!route) throw notFound('route');
      const destinationIds = route.destinations.map((one) => one.destinationId);
      await sendShowTo(tx, showId, destinationIds);
      for (const { destinationId, settings } of route.destinations)
        await changeListing(tx, showId, destinationId, { settings });
      await tellChosen(tx, app, showId);
      return { destinationIds };
    }),
  );
}

async function routesOf(db: Queryable): Promise<NamedRoute[]> {
  const routes = await db.select().from(namedRoute).orderBy(asc(namedRoute.name));
  const members = await db
    .select({ member: routeDestination })
    .from(routeDestination)
    .innerJoin(destination, eq(destination.id, routeDestination.destinationId))
    .where(isNull(destination.removedAt))
    .orderBy(asc(routeDestination.position));
  return routes.map(({ id, name }) => ({
    id,
    name,
    destinations: members
      .filter(({ member }) => member.routeId === id)
      .map(({ member: { destinationId, settings } }) => ({ destinationId, settings })),
  }));
}
