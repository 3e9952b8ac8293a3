import type { Clock } from '@juncta/core/clock';
import { makePasswordLink, readPasswordLink, usePasswordLink, type Member } from '@juncta/contract/team';
import { and, eq, gt, isNull } from 'drizzle-orm';
import type { Router } from 'express';
import { endSessionsOf } from '../access/sessions';
import { hashToken, newToken } from '../access/tokens';
import type { App } from '../app';
import type { Queryable } from '../database/connect';
import { notFound, Refusal } from '../http/errors';
import { mount } from '../http/mount';
import { hashPassword } from './passwords';
import { member, passwordLink } from './schema';
import { findMember, setPassword } from './store';
import { welcome } from './welcome';

const ONE_DAY_MS = 24 * 3_600_000;

const GONE =
  'This link has been used, is older than a day, or a newer one was made. Ask a producer of your team for a new one.';

/** How somebody gets in again who has lost their password: another producer makes a link, and they choose a new one. */
export function mountPasswordLinks(router: Router, app: App): void {
  mount(router, app, makePasswordLink, async ({ params, memberId }) => {
    if (!(await findMember(app.db, params.memberId))) throw notFound('member');
    return makeLink(app.db, app.securityClock, params.memberId, memberId);
  });

  mount(router, app, readPasswordLink, async ({ body }) => {
    const found = await findOwner(app.db, body.token, app.securityClock.now());
    if (!found) throw new Refusal('gone', GONE);
    return { name: found.name, email: found.email, expiresAtMs: found.expiresAt };
  });

  mount(router, app, usePasswordLink, async (call) => {
    const { token, password } = call.body;
    const now = app.securityClock.now();
    // Looked at first, so that a made-up token costs no hashing.
    if (!(await findOwner(app.db, token, now))) throw new Refusal('gone', GONE);
    const passwordHash = await hashPassword(password);
    const id = await app.db.transaction(async (tx) => {
      const owner = await findOwner(tx, token, now);
      // Whoever comes second finds the row gone.
      if (!owner || !(await takeAway(tx, token))) throw new Refusal('gone', GONE);
      await setPassword(tx, owner.id, passwordHash);
      await endSessionsOf(tx, owner.id);
      return owner.id;
    });
    app.log.info({ member: id }, 'a password was set by a link');
    return welcome(app, call, id);
  });
}

/** Makes the one link of a member. The token is told once, here; what is kept of it is a hash. */
async function makeLink(db: Queryable, clock: Clock, memberId: string, madeBy: string) {
  const token = newToken();
  const values = { tokenHash: hashToken(token), madeBy, expiresAt: clock.now() + ONE_DAY_MS };
  await db
    .insert(passwordLink)
    .values({ memberId, ...values })
    .onConflictDoUpdate({ target: passwordLink.memberId, set: values });
  return { token, expiresAtMs: values.expiresAt };
}

async function findOwner(
  db: Queryable,
  token: string,
  now: number,
): Promise<(Pick<Member, 'id' | 'name' | 'email'> & { expiresAt: number }) | undefined> {
  const [row] = await db
    .select({ id: member.id, name: member.name, email: member.email, expiresAt: passwordLink.expiresAt })
    .from(passwordLink)
    .innerJoin(member, and(eq(member.id, passwordLink.memberId), isNull(member.removedAt)))
    .where(and(eq(passwordLink.tokenHash, hashToken(token)), gt(passwordLink.expiresAt, now)));
  return row;
}

async function takeAway(db: Queryable, token: string): Promise<boolean> {
  const gone = await db
    .delete(passwordLink)
    .where(eq(passwordLink.tokenHash, hashToken(token)))
    .returning({ memberId: passwordLink.memberId });
  return gone.length > 0;
}
