import {
  enterAsGuest,
  listGuestLinks,
  makeGuestLink,
  readGuestView,
  revokeGuestLink,
  showGuestLink,
  type GuestLink,
} from '@juncta/contract/people';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { setSessionCookies } from '../access/cookies';
import { isEncrypted } from '../access/same-site';
import { endSession, startSession } from '../access/sessions';
import { hashToken, newToken } from '../access/tokens';
import type { App } from '../app';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { findShow } from '../shows/store';
import { RecentLinks } from './recent-links';
import * as store from './store';

const DAY_MS = 24 * 3_600_000;
/** A link outlives its show's start by this, for whoever comes back after a break or an overrun. */
const AFTER_START_MS = DAY_MS;
/** The life of a link while its show has no start, and the least life of any. */
const LEAST_MS = 7 * DAY_MS;

export function mountPeople(router: Router, app: App): void {
  const recent = new RecentLinks();
  const told = (showId: string, link: Omit<GuestLink, 'shownUntilMs'>): GuestLink => {
    const shown = recent.find(showId, link.personId, app.securityClock.now());
    return { ...link, shownUntilMs: shown?.untilMs ?? null };
  };

  mount(router, app, listGuestLinks, async ({ params: { showId } }) => {
    if (!(await findShow(app.db, showId))) throw notFound('show');
    return { links: (await store.listLinks(app.db, showId)).map((link) => told(showId, link)) };
  });

  mount(router, app, makeGuestLink, async ({ params: { showId, personId } }) => {
    const show = await findShow(app.db, showId);
    if (!show || !(await store.findGuest(app.db, showId, personId))) throw notFound('guest');
    const least = app.securityClock.now() + LEAST_MS;
    const token = newToken();
    const link = await app.db.transaction((tx) =>
      store.replaceLink(tx, {
        id: randomUUID(),
        showId,
        personId,
        tokenHash: hashToken(token),
        expiresAt: Math.max(least, (show.startsAtMs ?? 0) + AFTER_START_MS),
        usedAt: null,
      }),
    );
    recent.keep(showId, personId, token, app.securityClock.now());
    return { token, link: told(showId, link) };
  });

  mount(router, app, showGuestLink, async ({ params: { showId, personId } }) => {
    const shown = recent.find(showId, personId, app.securityClock.now());
    const hash = await store.findTokenHash(app.db, showId, personId);
    if (!shown || hash !== hashToken(shown.token))
      throw new Refusal(
        'gone',
        'This link can be shown no longer: that is so for an hour after it was made. Make a new one.',
      );
    return { token: shown.token };
  });

  mount(router, app, revokeGuestLink, async ({ params: { showId, personId } }) => {
    recent.forget(showId, personId);
    await store.deleteLink(app.db, showId, personId);
    return {};
  });

  mount(router, app, enterAsGuest, async ({ body, req, res, visitor }) => {
    const link = await store.useLink(app.db, hashToken(body.token), app.securityClock.now());
    if (!link) {
      throw new Refusal(
        'gone',
        'This link does not work any more: it has expired, or a newer one was made. Ask whoever sent it for a new one.',
      );
    }
    if (visitor?.member) {
      throw new Refusal(
        'forbidden',
        'You are signed in as a member of the team in this browser. Open the link in another, or sign out first.',
      );
    }
    if (visitor) await endSession(app.db, visitor.token);
    const token = await startSession(app.db, app.securityClock, {
      guestLinkId: link.id,
      expiresAtMs: link.expiresAt,
    });
    setSessionCookies(res, token, isEncrypted(req, app.config.trustProxy));
    return {};
  });

  mount(router, app, readGuestView, async ({ visitor }) => {
    const { showId, personId } = visitor!.guest!;
    const [show, person] = await Promise.all([
      findShow(app.db, showId),
      store.findGuest(app.db, showId, personId),
    ]);
    if (!show || !person) throw notFound('show');
    return {
      personId,
      name: person.name,
      showTitle: show.text.title,
      startsAtMs: show.startsAtMs,
      zone: show.text.start?.zone ?? null,
      plannedMinutes: show.text.plannedMinutes,
      hosts: show.text.people.filter(({ part }) => part === 'host').map(({ name }) => name),
      pictureFormat: show.pictureFormat,
    };
  });
}
