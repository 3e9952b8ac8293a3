import { readIncident, type Incident } from '@juncta/contract/programme';
import type { Router } from 'express';
import type { App } from '../app';
import { notFound } from '../http/errors';
import { mount } from '../http/mount';
import { listingsAt } from '../listings/store';
import { findShow } from '../shows/store';
import { historyOf } from '../feeds/store';

/** `GET /api/shows/:showId/incident`. */
export function mountIncident(router: Router, app: App): void {
  mount(router, app, readIncident, async ({ params: { showId } }): Promise<Incident> => {
    const show = await findShow(app.db, showId);
    if (!show) throw notFound('show');
    const { startedAtMs, endedAtMs, text } = show;
    const listings = await listingsAt(app.db, showId);
    return {
      format: 'juncta.incident',
      madeAtMs: app.securityClock.now(),
      show: { id: showId, title: text.title, startedAtMs, endedAtMs },
      programme: app.relay?.reportOf(showId) ?? null,
      feeds: await Promise.all(
        listings.map(async ({ listing, destination }) => ({
          destination: {
            id: destination.id,
            name: destination.name,
            place: app.rules.of(destination.kind).place,
            address: destination.address,
          },
          listing: { state: listing.listingState, problem: listing.problem },
          ...(await historyOf(app.db, showId, destination.id)),
        })),
      ),
      log: app.recent.lines().map((line) => JSON.parse(line) as unknown),
    };
  });
}
