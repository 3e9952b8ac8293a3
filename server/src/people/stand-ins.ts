import { listStandInGuests, sendAwayStandInGuest, sendInStandInGuest } from '@juncta/contract/people';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import * as z from 'zod';
import { newToken, hashToken } from '../access/tokens';
import type { App } from '../app';
import type { Transaction } from '../database/connect';
import { appendEvent } from '../events/store';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { findShow, lockShow, updateShow } from '../shows/store';
import * as store from './store';

/** A stand-in's link is for one sitting. */
const LINK_LIFE_MS = 12 * 3_600_000;
const PATIENCE_MS = 20_000;
/** What the plan says of them, which also tells them from other guests. */
const ABOUT = 'Stand-in guest';

const Helper = z.object({ guests: z.array(z.object({ name: z.string(), inHouse: z.boolean() })) });

/** Made-up guests: people of the show like any other, played by a helper process that comes by a personal link. */
export function mountStandIns(router: Router, app: App): void {
  const ask = async (method: string, path: string, body?: object): Promise<unknown> => {
    const url = app.config.standInGuestsUrl;
    if (!url) throw notFound('stand-in guest');
    const response = await fetch(new URL(path, url), {
      method,
      headers: { 'Content-Type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
      signal: AbortSignal.timeout(PATIENCE_MS),
    }).catch(() => null);
    if (!response?.ok) {
      throw new Refusal(
        'not_ready',
        'The helper that plays the stand-in guests does not answer. Try again in a few seconds.',
      );
    }
    return response.json();
  };
  const standInsOf = async (showId: string) =>
    ((await findShow(app.db, showId))?.text.people ?? []).filter(({ about }) => about === ABOUT);

  mount(router, app, listStandInGuests, async ({ params: { showId } }) => ({
    available: app.config.standInGuestsUrl !== null,
    guests: (await standInsOf(showId)).map(({ id, name }) => ({ personId: id, name })),
  }));

  mount(router, app, sendInStandInGuest, async ({ params: { showId }, memberId }) => {
    const { guests } = Helper.parse(await ask('GET', '/guests'));
    const here = await standInsOf(showId);
    // Whoever is planned in already but not there (the helper was restarted) comes first, then the next new one.
    const index = guests.findIndex(({ inHouse }) => !inHouse);
    const next = guests[index];
    if (!next) throw new Refusal('not_ready', 'All four stand-in guests are in already.');
    const known = here.find(({ name }) => name === next.name);
    const personId = known?.id ?? randomUUID();
    const token = newToken();
    await app.db.transaction(async (tx) => {
      await changePeople(tx, app, showId, memberId, (people) =>
        known
          ? people
          : [...people, { id: personId, memberId: null, name: next.name, part: 'guest', about: ABOUT }],
      );
      await store.replaceLink(tx, {
        id: randomUUID(),
        showId,
        personId,
        tokenHash: hashToken(token),
        expiresAt: app.securityClock.now() + LINK_LIFE_MS,
        usedAt: null,
      });
    });
    await ask('PUT', `/guests/${index}`, { token });
    return { personId, name: next.name };
  });

  mount(router, app, sendAwayStandInGuest, async ({ params: { showId, personId }, memberId }) => {
    const person = (await standInsOf(showId)).find(({ id }) => id === personId);
    if (!person) throw notFound('stand-in guest');
    const { guests } = Helper.parse(await ask('GET', '/guests'));
    const index = guests.findIndex(({ name }) => name === person.name);
    if (index >= 0) await ask('DELETE', `/guests/${index}`);
    await app.db.transaction(async (tx) => {
      await store.deleteLink(tx, showId, personId);
      await changePeople(tx, app, showId, memberId, (people) => people.filter(({ id }) => id !== personId));
    });
    return {};
  });
}

type People = NonNullable<Awaited<ReturnType<typeof findShow>>>['text']['people'];

async function changePeople(
  tx: Transaction,
  app: App,
  showId: string,
  memberId: string,
  change: (people: People) => People,
): Promise<void> {
  await lockShow(tx, showId);
  const show = await findShow(tx, showId);
  if (!show) throw notFound('show');
  const people = change(show.text.people);
  if (people === show.text.people) return;
  await updateShow(tx, {
    id: showId,
    version: show.version + 1,
    text: { ...show.text, people },
    startsAtMs: show.startsAtMs,
    editedAtMs: app.clock.now(),
    editedBy: memberId,
  });
  await appendEvent(tx, app.clock, 'shows', 'show.saved', { show: (await findShow(tx, showId))! });
}
