import {
  acceptInvitation,
  changePassword,
  changeRole,
  inviteMember,
  listDemoAccounts,
  listTeam,
  readInvitation,
  readSession,
  removeMember,
  signIn,
  signInToDemo,
  signOut,
  type Member,
} from '@juncta/contract/team';
import type { Router } from 'express';
import { randomUUID } from 'node:crypto';
import { clearSessionCookies } from '../access/cookies';
import { isEncrypted } from '../access/same-site';
import { endSession, endSessionsOf } from '../access/sessions';
import { hashToken } from '../access/tokens';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { appendEvent } from '../events/store';
import { badInput, notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { makeInvitation } from './invitations';
import { mountPasswordLinks } from './password-links';
import { checkPassword, hashPassword } from './passwords';
import * as store from './store';
import { sessionOf, welcome } from './welcome';

export function mountTeam(router: Router, app: App): void {
  mountSession(router, app);
  mountMembers(router, app);
  mountInvitations(router, app);
  mountPasswordLinks(router, app);
}

function mountSession(router: Router, app: App): void {
  mount(router, app, readSession, async ({ visitor }) => sessionOf(app, visitor?.member ?? null));

  mount(router, app, signIn, async (call) => {
    const { email, password } = call.body;
    await app.rateLimits.countSignIn(email, call.address);
    const found = await store.findCredentials(app.db, { email });
    if (!(await checkPassword(password, found?.passwordHash ?? null)) || !found) {
      throw new Refusal('wrong_credentials', 'Address and password do not belong together.');
    }
    await app.rateLimits.forgetSignIn(email, call.address);
    return welcome(app, call, found.id);
  });

  mount(router, app, signOut, async ({ req, res, visitor }) => {
    if (visitor) await endSession(app.db, visitor.token);
    clearSessionCookies(res, isEncrypted(req, app.config.trustProxy));
    return sessionOf(app, null);
  });

  mount(router, app, listDemoAccounts, async () => ({
    accounts: app.config.demo ? await store.listMembers(app.db) : [],
  }));

  mount(router, app, signInToDemo, async (call) => {
    if (!app.config.demo) throw notFound('page');
    return welcome(app, call, call.body.memberId);
  });

  mount(router, app, changePassword, async (call) => {
    const { memberId, visitor, body } = call;
    const found = await store.findCredentials(app.db, { id: memberId });
    await app.rateLimits.countSignIn(memberId, call.address);
    if (!(await checkPassword(body.current, found?.passwordHash ?? null))) {
      throw badInput([{ field: 'current', code: 'wrong', sentence: 'This is not your present password.' }]);
    }
    await app.rateLimits.forgetSignIn(memberId, call.address);
    const passwordHash = await hashPassword(body.password);
    await app.db.transaction(async (tx) => {
      await store.setPassword(tx, memberId, passwordHash);
      await endSessionsOf(tx, memberId, visitor!.token);
    });
    return {};
  });
}

function mountMembers(router: Router, app: App): void {
  mount(router, app, listTeam, async () => ({ members: await store.listMembers(app.db) }));

  mount(router, app, removeMember, async ({ params, memberId }) => {
    if (params.memberId === memberId) {
      throw new Refusal('forbidden', 'You cannot remove yourself. Another producer can.');
    }
    await app.db.transaction(async (tx) => {
      await asProducer(tx, memberId);
      const member = await store.findMember(tx, params.memberId);
      // Removed already: the same wish a second time is fulfilled.
      if (!member) return;
      await store.markRemoved(tx, member.id, app.clock.now());
      await endSessionsOf(tx, member.id);
      await appendEvent(tx, app.clock, 'team', 'member.removed', { memberId: member.id });
    });
    return {};
  });

  mount(router, app, changeRole, async ({ params, body, memberId }) => {
    if (params.memberId === memberId) {
      throw new Refusal('forbidden', 'You cannot change your own role. Another producer can.');
    }
    return app.db.transaction(async (tx) => {
      await asProducer(tx, memberId);
      const before = await store.findMember(tx, params.memberId);
      if (!before) throw notFound('member');
      if (before.role === body.role) return before;
      const member: Member = { ...before, role: body.role };
      await store.setRole(tx, member.id, member.role);
      await endSessionsOf(tx, member.id);
      await appendEvent(tx, app.clock, 'team', 'member.changed', { member });
      return member;
    });
  });
}

/** Holds the producers' rows: of two who take each other's role or place at once, the second is one no longer. */
async function asProducer(tx: Queryable, memberId: string): Promise<void> {
  const producers = await store.lockProducers(tx);
  if (!producers.includes(memberId)) throw new Refusal('forbidden', 'You are no longer a producer.');
}

const INVITATION_GONE =
  'This invitation has been used, or is older than three days. Ask whoever sent it for a new one.';

function mountInvitations(router: Router, app: App): void {
  mount(router, app, inviteMember, async ({ body, memberId }) =>
    makeInvitation(app.db, app.securityClock, body.role, memberId),
  );

  mount(router, app, readInvitation, async ({ body }) => {
    const found = await store.findInvitation(app.db, hashToken(body.token), app.securityClock.now());
    if (!found) throw new Refusal('gone', INVITATION_GONE);
    return { role: found.role, expiresAtMs: found.expiresAt };
  });

  mount(router, app, acceptInvitation, async (call) => {
    const { token, name, email, password } = call.body;
    const tokenHash = hashToken(token);
    const now = app.securityClock.now();
    // Looked at first, so that a made-up token costs no hashing.
    if (!(await store.findInvitation(app.db, tokenHash, now))) throw new Refusal('gone', INVITATION_GONE);
    const passwordHash = await hashPassword(password);
    const id = randomUUID();
    await app.db.transaction(async (tx) => {
      const used = await store.useInvitation(tx, tokenHash, now);
      if (!used) throw new Refusal('gone', INVITATION_GONE);
      if (await store.findCredentials(tx, { email })) {
        throw badInput([
          { field: 'email', code: 'taken', sentence: 'Somebody of the team has this address.' },
        ]);
      }
      const member: Member = { id, name, email, role: used.role };
      await store.addMember(tx, { ...member, passwordHash, joinedAt: app.clock.now() });
      await appendEvent(tx, app.clock, 'team', 'member.joined', { member });
    });
    return welcome(app, call, id);
  });
}
