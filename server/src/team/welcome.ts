import type { Member, Session } from '@juncta/contract/team';
import type { Request, Response } from 'express';
import { setSessionCookies } from '../access/cookies';
import { isEncrypted } from '../access/same-site';
import { endSession, startSession, type Visitor } from '../access/sessions';
import type { App } from '../app';
import { notFound } from '../http/errors';
import { handOverComposings } from '../programme/composing';
import { findMember } from './store';

interface Entering {
  readonly req: Request;
  readonly res: Response;
  readonly visitor: Visitor | null;
}

export function sessionOf(app: App, member: Member | null): Session {
  return { member, demo: app.config.demo };
}

/** Starts a session for a member. One that the browser had before ends: it cannot be planted on anybody. */
export async function welcome(app: App, call: Entering, memberId: string): Promise<Session> {
  const member = await findMember(app.db, memberId);
  if (!member) throw notFound('account');
  const before = call.visitor?.token;
  const token = await app.db.transaction(async (tx) => {
    const next = await startSession(tx, app.securityClock, { memberId });
    if (before !== undefined) {
      await handOverComposings(tx, memberId, before, next);
      await endSession(tx, before);
    }
    return next;
  });
  setSessionCookies(call.res, token, isEncrypted(call.req, app.config.trustProxy));
  return sessionOf(app, member);
}
