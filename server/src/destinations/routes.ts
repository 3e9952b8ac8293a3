import {
  addDestination,
  listDestinations,
  removeDestination,
  setShowDestinations,
} from '@juncta/contract/destinations';
import type { FieldError } from '@juncta/contract/errors';
import { streamOf } from '@juncta/contract/events';
import { hideQuery, readPastedTarget } from '@juncta/core/destinations';
import type { Router } from 'express';
import type { App } from '../app';
import type { Queryable, Transaction } from '../database/connect';
import { appendEvent, lastSeq } from '../events/store';
import { badInput, notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { followWants } from '../ingest/book-inputs';
import { findShow } from '../shows/store';
import { listingsAt } from '../listings/store';
import { isSendingTo } from '../feeds/store';
import { rulesOfRow } from './row-rules';
import * as store from './store';
import { targetSentences } from './target-sentences';

export function mountDestinations(router: Router, app: App): void {
  mount(router, app, listDestinations, () =>
    app.db.transaction(
      async (tx) => ({
        destinations: (await store.listDestinations(tx)).map((row) =>
          store.describe(row, rulesOfRow(app, row)),
        ),
        seq: await lastSeq(tx, 'destinations'),
      }),
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    ),
  );

  mount(router, app, addDestination, async ({ body }) => {
    const target = readPastedTarget(body.address, body.key);
    const wrong: FieldError[] = [];
    if (!target.ok)
      wrong.push({ field: target.field, code: target.problem, sentence: targetSentences[target.problem] });
    if (body.pageUrl !== '' && !/^https?:\/\/[^\s/]+/.test(body.pageUrl)) {
      wrong.push({
        field: 'pageUrl',
        code: 'not_an_address',
        sentence: 'The public page begins with https://.',
      });
    }
    if (!target.ok || wrong.length > 0) throw badInput(wrong);
    const { address, secret } = hideQuery(target);
    return app.db.transaction(async (tx) => {
      await store.addDestination(tx, {
        id: body.id,
        name: body.name,
        code: body.code,
        pattern: body.pattern,
        kind: 'custom_rtmp',
        address,
        secret: app.secrets.lock(secret, body.id),
        accountId: null,
        placement: null,
        pageUrl: body.pageUrl || null,
        addedAt: app.clock.now(),
      });
      await appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {});
      return store.describe((await store.findDestination(tx, body.id))!, app.rules.of('custom_rtmp'));
    });
  });

  mount(router, app, removeDestination, async ({ params: { destinationId } }) =>
    app.db.transaction(async (tx) => {
      if (await isSendingTo(tx, destinationId)) {
        throw new Refusal('not_ready', 'A show is being sent there just now. End its feed first.');
      }
      await store.removeDestination(tx, destinationId, app.clock.now());
      await appendEvent(tx, app.clock, 'destinations', 'destinations.changed', {});
      return {};
    }),
  );

  mount(router, app, setShowDestinations, async ({ params: { showId }, body }) => {
    await app.db.transaction(async (tx) => {
      await sendShowTo(tx, showId, body.destinationIds);
      await tellChosen(tx, app, showId);
    });
    await followWants(app, showId);
    return body;
  });
}

/** Tells everybody that where a show goes has changed. */
export async function tellChosen(tx: Transaction, app: App, showId: string): Promise<void> {
  await appendEvent(tx, app.clock, streamOf('listings', showId), 'destinations.chosen', { showId });
  await appendEvent(tx, app.clock, 'destinations', 'listings.changed', { showId });
}

/** Sets where a show goes; refused where that would leave something at a place that nobody comes to. */
export async function sendShowTo(tx: Queryable, showId: string, ids: readonly string[]): Promise<void> {
  if (!(await findShow(tx, showId))) throw notFound('show');
  const known = new Set((await store.listDestinations(tx)).map(({ id }) => id));
  if (ids.some((id) => !known.has(id))) throw notFound('destination');
  for (const { listing, destination } of await listingsAt(tx, showId)) {
    if (ids.includes(destination.id)) continue;
    if (await isSendingTo(tx, destination.id, showId))
      throw new Refusal(
        'not_ready',
        `The show is being sent to ${destination.name} just now. End that feed first.`,
      );
    // Taken off the board, the event would stay over there, and nobody would come to it.
    if (listing.listingState === 'booked')
      throw new Refusal('not_ready', `It is booked at ${destination.name}. Cancel the booking first.`);
  }
  await store.setShowDestinations(tx, showId, [...new Set(ids)]);
}
