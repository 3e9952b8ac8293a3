import type { Clock } from '@juncta/core/clock';
import { can, type Actor } from '@juncta/core/team';
import type { Access } from '@juncta/contract/http';
import type { Member } from '@juncta/contract/team';
import { and, eq, gt, inArray, isNotNull, isNull, lt, ne, or, sql } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { Refusal } from '../http/errors';
import { guestLink } from '../people/schema';
import { member } from '../team/schema';
import { session } from './schema';
import { hashToken, newToken } from './tokens';

const HOUR = 3_600_000;
/** A session nobody used for this long has ended: longer than the longest show with its wrap. */
export const IDLE_MS = 14 * HOUR;
/** After this long everybody signs in again, used or not. */
export const LONGEST_MS = 7 * 24 * HOUR;
/** `seenAt` is written at most this often, so that reading does not write at every request. */
const SEEN_EVERY_MS = 5 * 60_000;

/** Notified when sessions were ended: open sockets and composing desks are looked at again. */
export const SESSIONS_CHANNEL = 'juncta_sessions';

/** Whom a request comes from, and by which session. */
export interface Visitor {
  readonly token: string;
  readonly actor: Actor;
  /** Null for guests. */
  readonly member: Member | null;
  /** The guest's link; null for members. */
  readonly guest: { readonly showId: string; readonly personId: string } | null;
}

export async function startSession(
  db: Queryable,
  clock: Clock,
  whose: { memberId: string } | { guestLinkId: string; expiresAtMs: number },
): Promise<string> {
  const token = newToken();
  const now = clock.now();
  const longest = now + LONGEST_MS;
  await db.insert(session).values({
    tokenHash: hashToken(token),
    memberId: 'memberId' in whose ? whose.memberId : null,
    guestLinkId: 'guestLinkId' in whose ? whose.guestLinkId : null,
    createdAt: now,
    seenAt: now,
    expiresAt: 'expiresAtMs' in whose ? Math.min(longest, whose.expiresAtMs) : longest,
  });
  return token;
}

/** The visitor behind a cookie's token; null when there is no such session, or it has ended. */
export async function findVisitor(db: Queryable, clock: Clock, token: string): Promise<Visitor | null> {
  const now = clock.now();
  const tokenHash = hashToken(token);
  const [row] = await db
    .select({ session, member, guestLink })
    .from(session)
    .leftJoin(member, and(eq(member.id, session.memberId), isNull(member.removedAt)))
    .leftJoin(guestLink, and(eq(guestLink.id, session.guestLinkId), gt(guestLink.expiresAt, now)))
    .where(
      and(eq(session.tokenHash, tokenHash), gt(session.expiresAt, now), gt(session.seenAt, now - IDLE_MS)),
    );
  if (!row) return null;
  if (now - row.session.seenAt > SEEN_EVERY_MS) {
    await db.update(session).set({ seenAt: now }).where(eq(session.tokenHash, tokenHash));
  }
  if (row.member) {
    const { id, name, email, role } = row.member;
    return {
      token,
      actor: { kind: 'member', memberId: id, role },
      member: { id, name, email, role },
      guest: null,
    };
  }
  if (row.guestLink) {
    const { showId, personId } = row.guestLink;
    return { token, actor: { kind: 'guest', showId }, member: null, guest: { showId, personId } };
  }
  return null;
}

/** Those of the tokens whose session is good; one question for all of them. An open page is a session in use. */
export async function goodTokens(
  db: Queryable,
  clock: Clock,
  tokens: readonly string[],
): Promise<ReadonlySet<string>> {
  if (tokens.length === 0) return new Set();
  const now = clock.now();
  const byHash = new Map(tokens.map((token) => [hashToken(token), token]));
  const rows = await db
    .select({ tokenHash: session.tokenHash })
    .from(session)
    .leftJoin(member, and(eq(member.id, session.memberId), isNull(member.removedAt)))
    .leftJoin(guestLink, and(eq(guestLink.id, session.guestLinkId), gt(guestLink.expiresAt, now)))
    .where(
      and(
        inArray(session.tokenHash, [...byHash.keys()]),
        gt(session.expiresAt, now),
        gt(session.seenAt, now - IDLE_MS),
        or(isNotNull(member.id), isNotNull(guestLink.id)),
      ),
    );
  const good = rows.map(({ tokenHash }) => tokenHash);
  if (good.length > 0)
    await db
      .update(session)
      .set({ seenAt: now })
      .where(and(inArray(session.tokenHash, good), lt(session.seenAt, now - SEEN_EVERY_MS)));
  return new Set(good.map((hash) => byHash.get(hash)!));
}

export async function endSession(db: Queryable, token: string): Promise<void> {
  await db.delete(session).where(eq(session.tokenHash, hashToken(token)));
  await tellSessionsEnded(db);
}

/** Ends every session of a member, but for the one with `exceptToken`, when given. */
export async function endSessionsOf(db: Queryable, memberId: string, exceptToken?: string): Promise<void> {
  const others = exceptToken === undefined ? undefined : ne(session.tokenHash, hashToken(exceptToken));
  await db.delete(session).where(and(eq(session.memberId, memberId), others));
  await tellSessionsEnded(db);
}

/** Every server looks again at the sessions behind its open connections. */
export async function tellSessionsEnded(db: Queryable): Promise<void> {
  await db.execute(sql`select pg_notify(${SESSIONS_CHANNEL}, '')`);
}

export async function sweepSessions(db: Queryable, clock: Clock): Promise<void> {
  await db.delete(session).where(lt(session.expiresAt, clock.now()));
}

/** The one place where access is enforced. Returns when the visitor may, throws the refusal when not. */
export function enforce(access: Access, visitor: Visitor | null): void {
  if (access.kind === 'public') return;
  const wantsGuest = access.kind === 'guest';
  if (!visitor || (wantsGuest ? !visitor.guest : !visitor.member)) {
    throw new Refusal(
      'signed_out',
      wantsGuest
        ? 'This page needs your personal link. Open the link you were sent once more.'
        : 'You are not signed in, or your session has ended. Sign in again; what you were writing is still here.',
    );
  }
  if (access.kind === 'right' && !can(visitor.member!.role, access.right)) {
    throw new Refusal(
      'forbidden',
      `As ${visitor.member!.role} you cannot do this. Ask ${whoCan(access.right)}.`,
    );
  }
}

function whoCan(needed: Parameters<typeof can>[1]): string {
  return can('host', needed) ? 'a producer or a host' : 'a producer';
}
