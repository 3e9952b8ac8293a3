import { makeNextShow, type Show, type Start } from '@juncta/contract/shows';
import { nextStart, type NextStart, type NotCarried } from '@juncta/core/shows';
import { occurrences, resolveStart } from '@juncta/core/schedule';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import { setShowDestinations } from '../destinations/store';
import type { Queryable } from '../database/connect';
import { appendEvent } from '../events/store';
import { badInput, notFound } from '../http/errors';
import { mount } from '../http/mount';
import { copyPictures } from '../listings/pictures';
import { changeListing, listingsOf } from '../listings/store';
import { listMembers } from '../team/store';
import * as store from './store';

const LOOKED_AHEAD_MS = 400 * 24 * 3_600_000;
const BAD_START = 'That time does not exist on that day, or its zone is not known.';

/** `POST /api/shows/:showId/next`. */
export function mountNextShow(router: Router, app: App): void {
  mount(router, app, makeNextShow, ({ params: { showId }, body: { id, start: wished }, memberId }) =>
    app.db.transaction(async (tx) => {
      const before = await store.findShow(tx, showId);
      if (!before) throw notFound('show');
      const now = app.clock.now();
      const { start, notCarried } = await startOf(tx, before, wished, now);
      const left: NotCarried[] = [...notCarried];
      const members = new Set((await listMembers(tx)).map((member) => member.id));
      const here = before.text.people.filter((one) => one.memberId === null || members.has(one.memberId));
      if (here.length < before.text.people.length) left.push('people');
      if (here.some(({ part }) => part === 'guest')) left.push('links');
      const text: Show['text'] = {
        ...before.text,
        start,
        // Links hang on these.
        people: here.map((one) => ({ ...one, id: randomUUID() })),
      };
      const resolved = start && resolveStart(start);
      const startsAtMs = resolved?.ok ? resolved.atMs : null;
      const isNew = await store.insertShow(tx, {
        id,
        version: 1,
        text,
        startsAtMs,
        editedAtMs: now,
        editedBy: memberId,
      });
      const listings = await listingsOf(tx, showId);
      if (listings.some(({ slot }) => slot.kind === 'fixed')) left.push('fixed_slots');
      if (isNew) {
        const ids = listings.map(({ destinationId }) => destinationId);
        await setShowDestinations(tx, id, ids);
        await copyPictures(tx, showId, id);
        await store.setShowPicture(tx, id, before.picture);
        await store.setShowPictureFormat(tx, id, before.pictureFormat);
        await store.changeShared(tx, (await store.findShow(tx, id))!, before.shared);
        for (const { destinationId, title, description, slot, settings, picture, crop } of listings)
          await changeListing(tx, id, destinationId, {
            title,
            description,
            settings,
            picture,
            crop,
            ...(slot.kind === 'fixed' ? {} : { slot }),
          });
        await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await store.findShow(tx, id))! });
      }
      return { show: (await store.findShow(tx, id))!, notCarried: left };
    }),
  );
}

/** As wished, or the series' next date that no show has yet, or a week later. */
async function startOf(
  tx: Queryable,
  before: Show,
  wished: Start | undefined,
  nowMs: number,
): Promise<NextStart> {
  if (wished) {
    if (!resolveStart(wished).ok)
      throw badInput([{ field: 'start', code: 'bad_start', sentence: BAD_START }]);
    return { start: wished, notCarried: [] };
  }
  const { seriesId } = before.text;
  const recurrence = seriesId === null ? null : (await store.findSeries(tx, seriesId))?.recurrence;
  if (!recurrence) return nextStart(before.text.start, nowMs);
  const taken = (await store.listShows(tx))
    .filter(({ text, archivedAtMs }) => text.seriesId === seriesId && archivedAtMs === null)
    .map(({ startsAtMs }) => startsAtMs);
  const fromMs = Math.max(nowMs, before.startsAtMs ?? 0);
  const dates = occurrences(recurrence, fromMs, fromMs + LOOKED_AHEAD_MS);
  const free = dates.find(({ atMs }) => atMs === null || !taken.includes(atMs));
  if (!free) return nextStart(before.text.start, nowMs);
  return free.atMs === null
    ? { start: null, notCarried: ['start_skipped'] }
    : { start: free.start, notCarried: [] };
}
