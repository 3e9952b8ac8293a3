import { readFigures, saveListing } from '@juncta/contract/listings';
import type { Router } from 'express';
import type { App } from '../app';
import { appendEvent } from '../events/store';
import { notFound } from '../http/errors';
import { mount } from '../http/mount';
import { findShow } from '../shows/store';
import * as store from './store';

export function mountListings(router: Router, app: App): void {
  mount(router, app, readFigures, async ({ params: { showId } }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    return { figures: await store.figuresOf(app.db, showId) };
  });

  mount(router, app, saveListing, async ({ params: { showId, destinationId }, body }) =>
    app.db.transaction(async (tx) => {
      const row = await store.changeListing(tx, showId, destinationId, { title: body.title });
      if (!row) throw notFound('destination');
      const listing = store.describeListing(row, app.relay?.viewersAt(showId, destinationId) ?? null);
      await appendEvent(tx, app.clock, 'relay', 'listing.changed', { showId, listing });
      return listing;
    }),
  );
}
