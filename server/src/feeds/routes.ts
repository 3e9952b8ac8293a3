import { publishFeed, readFeedHistory, startFeed, stopFeed } from '@juncta/contract/feeds';
import { Id } from '@juncta/contract/http';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { admit } from '../http/files';
import { mount } from '../http/mount';
import { sendStill } from '../http/send-still';
import { findListing } from '../listings/store';
import { endListing, openListing, publishListing } from '../listings/at-place';
import { addRun, findOpenRun } from '../programme/store';
import { relayOf } from '../relay/relay';
import { carriedTo } from '../renditions/plan';
import { findShow, lockShow, setProgrammeTimes } from '../shows/store';
import { historyOf, wantFeed } from './store';

export function mountFeeds(router: Router, app: App): void {
  mount(router, app, readFeedHistory, async ({ params: { showId, destinationId } }) => ({
    ...(await historyOf(app.db, showId, destinationId)),
    health: app.relay?.healthAt(showId, destinationId) ?? null,
  }));

  /** See `feedStillPath`. */
  router.get('/api/shows/:showId/feeds/:destinationId/still', async (req, res) => {
    await admit(app, req, 'desk.open');
    const { showId, destinationId } = req.params;
    const isKnown = Id.safeParse(showId).success && Id.safeParse(destinationId).success;
    if (!isKnown || !(await findListing(app.db, showId, destinationId))) throw notFound('destination');
    sendStill(res, await relayOf(app).client.feedStill(showId, destinationId));
  });

  mount(router, app, startFeed, async ({ params: { showId, destinationId } }) => {
    const link = relayOf(app);
    const show = await findShow(app.db, showId);
    if (!show) throw notFound('show');
    const { state, isDrilled } = await link.client.report(showId);
    if (isDrilled) throw new Refusal('not_ready', 'A drill goes on. End it before the show is started.');
    if (state === 'waiting') {
      throw new Refusal(
        'not_ready',
        'There is no picture at the relay yet. Open the programme at the desk first.',
      );
    }
    // Before anything is opened there: a place that cannot be served is told nothing.
    const carried = await carriedTo(app, app.db, link, show, destinationId);
    const ingest = await openListing(app, showId, destinationId);
    const runId = await app.db.transaction(async (tx) => {
      await lockShow(tx, showId);
      await wantFeed(tx, showId, destinationId, true);
      const open = await findOpenRun(tx, showId);
      if (open) return open.id;
      const id = randomUUID();
      const now = app.clock.now();
      await addRun(tx, { id, showId, startedAt: now });
      const locked = (await findShow(tx, showId))!;
      await setProgrammeTimes(tx, showId, { startedAt: locked.startedAtMs ?? now, endedAt: null });
      await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await findShow(tx, showId))! });
      return id;
    });
    await link.client.beginRun(showId, runId);
    return link.keep(await link.client.startFeed(showId, destinationId, { ...ingest, ...carried }));
  });

  mount(router, app, stopFeed, async ({ params: { showId, destinationId } }) => {
    const link = relayOf(app);
    await wantFeed(app.db, showId, destinationId, false);
    const report = await link.keep(await link.client.stopFeed(showId, destinationId));
    await endListing(app, showId, destinationId);
    void link.endWhatIsOver();
    return report;
  });

  mount(router, app, publishFeed, async ({ params: { showId, destinationId } }) => {
    const link = relayOf(app);
    await publishListing(app, showId, destinationId);
    await link.lookAt(showId, destinationId);
    return link.keep(await link.client.report(showId));
  });
}
