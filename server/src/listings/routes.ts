import {
  adoptEvent,
  findRemoteEvents,
  bookListings,
  cancelBookings,
  readClashes,
  readBackListings,
  readFigures,
  readHouseDefaults,
  readLaunchTicks,
  readListings,
  saveHouseDefaults,
  saveListing,
  tickLaunchItem,
  type ListingOutcome,
} from '@juncta/contract/listings';
import { streamOf } from '@juncta/contract/events';
import type { FieldError } from '@juncta/contract/errors';
import type { Show } from '@juncta/contract/shows';
import { fitsSetting, type SettingId, type SettingValues } from '@juncta/core/listings';
import { readPlannedListings } from '@juncta/contract/readiness';
import type { Router } from 'express';
import type { App } from '../app';
import { connectorOf, type Kind } from '../destinations/connectors';
import { describe, destinationsOfShow } from '../destinations/store';
import { lastSeq } from '../events/store';
import { badInput, notFound } from '../http/errors';
import { mount } from '../http/mount';
import { findShow } from '../shows/store';
import { change } from './at-place';
import { clashesWith, plannedListings } from './planned';
import { bookOne, cancelOne, lookOne } from './bookings';
import { adopt, remoteEvents } from './adopting';
import { changeDefaults, readDefaults } from './house-defaults';
import { setTick, ticksOf } from './launch-ticks';
import { rulesOfRow } from '../destinations/row-rules';
import * as store from './store';

export function mountListings(router: Router, app: App): void {
  const showOf = async (showId: string): Promise<Show> => {
    const show = await findShow(app.db, showId);
    if (!show) throw notFound('show');
    return show;
  };
  /** All at the same time: one that hangs does not keep the others waiting. */
  const each = async (
    showId: string,
    ids: readonly string[] | null,
    act: (show: Show, at: store.ListingAt) => Promise<ListingOutcome>,
  ) => {
    const show = await showOf(showId);
    const all = await store.listingsAt(app.db, showId);
    const meant = ids === null ? all : all.filter(({ destination }) => ids.includes(destination.id));
    return { outcomes: await Promise.all(meant.map((at) => act(show, at))) };
  };

  mount(router, app, readListings, ({ params: { showId } }) =>
    app.db.transaction(
      async (tx) => ({
        destinations: (await destinationsOfShow(tx, showId)).map((row) =>
          describe(row, rulesOfRow(app, row)),
        ),
        listings: (await store.listingsAt(tx, showId)).map(({ listing, destination }) =>
          store.describeListing(
            listing,
            destination.kind,
            app.relay?.viewersAt(showId, listing.destinationId) ?? null,
          ),
        ),
        seqs: {
          listings: await lastSeq(tx, streamOf('listings', showId)),
          destinations: await lastSeq(tx, 'destinations'),
        },
      }),
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    ),
  );

  mount(router, app, readFigures, async ({ params: { showId } }) => {
    await showOf(showId);
    return { figures: await store.figuresOf(app.db, showId) };
  });

  mount(router, app, saveListing, async ({ params: { showId, destinationId }, body }) => {
    const at = await store.findListing(app.db, showId, destinationId);
    if (!at) throw notFound('destination');
    const { title, description, slot, settings, crop } = body;
    if (settings) refuseUnfit(at.destination.kind, settings);
    const merged = Object.entries({ ...at.listing.settings, ...settings }).filter(([, one]) => one !== null);
    return change(app, showId, destinationId, {
      ...(title === undefined ? {} : { title }),
      ...(description === undefined ? {} : { description }),
      ...(slot === undefined ? {} : { slot }),
      ...(crop === undefined ? {} : { crop }),
      ...(settings === undefined ? {} : { settings: Object.fromEntries(merged) }),
    });
  });

  mount(router, app, findRemoteEvents, async ({ params: { showId, destinationId } }) => ({
    events: await remoteEvents(app, await showOf(showId), destinationId),
  }));
  mount(router, app, adoptEvent, async ({ params: { showId, destinationId }, body }) =>
    adopt(app, await showOf(showId), destinationId, body.eventRef),
  );
  mount(router, app, bookListings, ({ params: { showId }, body }) =>
    each(showId, body.destinationIds, (show, at) => bookOne(app, show, at, body.immediate)),
  );
  mount(router, app, cancelBookings, ({ params: { showId }, body }) =>
    each(showId, body.destinationIds, (_show, at) => cancelOne(app, at)),
  );
  mount(router, app, readBackListings, ({ params: { showId }, body }) =>
    each(showId, body.destinationIds, (_show, at) => lookOne(app, at)),
  );

  mount(router, app, readClashes, async ({ params: { showId } }) => ({
    clashes: await clashesWith(app.db, (await showOf(showId)).id),
  }));
  mount(router, app, readPlannedListings, () => plannedListings(app));

  mount(router, app, readHouseDefaults, () => readDefaults(app.db));
  mount(router, app, saveHouseDefaults, ({ body }) =>
    app.db.transaction(async (tx) => {
      await changeDefaults(tx, body.seriesId, body.settings, body.atDeskMinutes);
      return readDefaults(tx);
    }),
  );

  mount(router, app, readLaunchTicks, async ({ params: { showId } }) => {
    await showOf(showId);
    return { ticks: await ticksOf(app.db, showId) };
  });
  mount(router, app, tickLaunchItem, async ({ params: { showId }, body, memberId }) => {
    await showOf(showId);
    const { itemId, done } = body;
    await setTick(app.db, { showId, itemId, memberId, tickedAt: app.clock.now() }, done);
    return { ticks: await ticksOf(app.db, showId) };
  });
}

/** Values that this place cannot have are refused by name, rather than by the place on the night. */
function refuseUnfit(kind: Kind, values: SettingValues): void {
  const { place, capabilities } = connectorOf(kind).rules;
  const wrong: FieldError[] = [];
  for (const [id, value] of Object.entries(values) as [SettingId, SettingValues[SettingId]][]) {
    const setting = capabilities.settings.find((one) => one.id === id);
    const field = `settings.${id}`;
    if (!setting) wrong.push({ field, code: 'not_there', sentence: `${place} has no such setting.` });
    else if (!fitsSetting(setting, value ?? null)) {
      const options = setting.options.length > 0 ? ` It can be ${setting.options.join(', ')}.` : '';
      wrong.push({ field, code: 'unfit', sentence: `${place} cannot have this value.${options}` });
    }
  }
  if (wrong.length > 0) throw badInput(wrong);
}
