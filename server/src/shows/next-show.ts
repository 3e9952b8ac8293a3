import { makeNextShow, type Show } from '@juncta/contract/shows';
import { nextStart, type NotCarried } from '@juncta/core/shows';
import { resolveStart } from '@juncta/core/schedule';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import type { App } from '../app';
import { setShowDestinations } from '../destinations/store';
import { appendEvent } from '../events/store';
import { notFound } from '../http/errors';
import { mount } from '../http/mount';
import { changeListing, listingsOf } from '../listings/store';
import { listMembers } from '../team/store';
import * as store from './store';

/** `POST /api/shows/:showId/next`. */
export function mountNextShow(router: Router, app: App): void {
  mount(router, app, makeNextShow, ({ params: { showId }, body: { id }, memberId }) =>
    app.db.transaction(async (tx) => {
      const before = await store.findShow(tx, showId);
      if (!before) throw notFound('show');
      const now = app.clock.now();
      const { start, notCarried } = nextStart(before.text.start, now);
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
        for (const { destinationId, title, description, slot, settings } of listings)
          await changeListing(tx, id, destinationId, {
            title,
            description,
            settings,
            ...(slot.kind === 'fixed' ? {} : { slot }),
          });
        await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await store.findShow(tx, id))! });
      }
      return { show: (await store.findShow(tx, id))!, notCarried: left };
    }),
  );
}
