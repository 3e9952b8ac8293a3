import { same } from '@juncta/core/shows';
import {
  archiveShow,
  createShow,
  listShows,
  saveSharedSettings,
  saveShow,
  type Show,
} from '@juncta/contract/shows';
import type { Router } from 'express';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { appendEvent, lastSeq } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { listMembers } from '../team/store';
import { checkShowText } from './check-text';
import { listingsAt } from '../listings/store';
import { describeSeries } from './describe-series';
import * as store from './store';

export function mountShows(router: Router, app: App): void {
  /** What a text is checked against, and the instant of its start. */
  async function startOf(tx: Transaction, text: Show['text'], before: Show | null): Promise<number | null> {
    const members = await listMembers(tx);
    const series = text.seriesId ? await store.findSeries(tx, text.seriesId) : undefined;
    return checkShowText(text, { members, series, before: before?.text ?? null });
  }

  /** Reads a show as it is after a change and tells everybody of it. */
  async function tell(tx: Transaction, id: string): Promise<Show> {
    const show = (await store.findShow(tx, id))!;
    await appendEvent(tx, app.clock, 'shows', 'show.saved', { show });
    return show;
  }

  mount(router, app, listShows, async () =>
    // One snapshot: the number belongs to the list, or an event could fall between the two.
    app.db.transaction(
      async (tx) => ({
        shows: await store.listShows(tx),
        series: (await store.listSeries(tx)).map((row) => describeSeries(app.config, row)),
        seq: await lastSeq(tx, 'shows'),
      }),
      { isolationLevel: 'repeatable read', accessMode: 'read only' },
    ),
  );

  mount(router, app, createShow, async ({ body, memberId }) =>
    app.db.transaction(async (tx) => {
      const startsAtMs = await startOf(tx, body.text, null);
      const save = { ...body, version: 1, startsAtMs, editedAtMs: app.clock.now(), editedBy: memberId };
      if (await store.insertShow(tx, save)) return tell(tx, body.id);
      const there = (await store.findShow(tx, body.id))!;
      if (there.version === 1 && same(there.text, body.text)) return there;
      throw new Refusal('changed_meanwhile', 'There is a show with this id already.', { current: there });
    }),
  );

  mount(router, app, saveShow, async ({ params: { showId }, body, memberId }) =>
    app.db.transaction(async (tx) => {
      await store.lockShow(tx, showId);
      const before = await store.findShow(tx, showId);
      if (!before) throw notFound('show');
      if (before.version !== body.version) {
        // The very same save once more, its answer having been lost.
        if (before.version === body.version + 1 && same(before.text, body.text)) return before;
        throw new Refusal(
          'changed_meanwhile',
          `${before.editedBy ?? 'Somebody'} saved this show while you were writing. Nothing was overwritten.`,
          { current: before },
        );
      }
      const startsAtMs = await startOf(tx, body.text, before);
      await store.updateShow(tx, {
        id: showId,
        version: before.version + 1,
        text: body.text,
        startsAtMs,
        editedAtMs: app.clock.now(),
        editedBy: memberId,
      });
      return tell(tx, showId);
    }),
  );

  mount(router, app, saveSharedSettings, ({ params: { showId }, body }) =>
    app.db.transaction(async (tx) => {
      await store.lockShow(tx, showId);
      const before = await store.findShow(tx, showId);
      if (!before) throw notFound('show');
      await store.changeShared(tx, before, body.settings);
      return tell(tx, showId);
    }),
  );

  mount(router, app, archiveShow, async ({ params: { showId }, body, memberId }) =>
    app.db.transaction(async (tx) => {
      await store.lockShow(tx, showId);
      const before = await store.findShow(tx, showId);
      if (!before) throw notFound('show');
      if ((before.archivedAtMs !== null) === body.archived) return before;
      if (body.archived && before.startedAtMs !== null && before.endedAtMs === null) {
        throw new Refusal('forbidden', 'This show is live. End it before it is put away.');
      }
      const booked = (await listingsAt(tx, showId)).filter(
        ({ listing }) => listing.listingState === 'booked',
      );
      if (body.archived && booked.length > 0) {
        const places = booked.map(({ destination }) => destination.name).join(', ');
        throw new Refusal(
          'not_ready',
          `It is booked at ${places}. Cancel the bookings before it is put away.`,
        );
      }
      const now = app.clock.now();
      await store.setArchived(tx, showId, {
        archivedAt: body.archived ? now : null,
        version: before.version + 1,
        editedAt: now,
        editedBy: memberId,
      });
      return tell(tx, showId);
    }),
  );
}
