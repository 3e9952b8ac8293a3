import type { Member } from '@juncta/contract/team';
import type { Role } from '@juncta/core/team';
import { and, asc, eq, gt, isNull } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { invitation, member } from './schema';

const publicColumns = { id: member.id, name: member.name, email: member.email, role: member.role };

export async function listMembers(db: Queryable): Promise<Member[]> {
  return db.select(publicColumns).from(member).where(isNull(member.removedAt)).orderBy(asc(member.name));
}

export async function findMember(db: Queryable, id: string): Promise<Member | undefined> {
  const [row] = await db
    .select(publicColumns)
    .from(member)
    .where(and(eq(member.id, id), isNull(member.removedAt)));
  return row;
}

/** With the hash, for checking a password: the only function that reads it. */
export async function findCredentials(db: Queryable, by: { email: string } | { id: string }) {
  const [row] = await db
    .select({ id: member.id, passwordHash: member.passwordHash })
    .from(member)
    .where(and('email' in by ? eq(member.email, by.email) : eq(member.id, by.id), isNull(member.removedAt)));
  return row;
}

export async function addMember(
  db: Queryable,
  values: Member & { passwordHash: string | null; joinedAt: number },
): Promise<void> {
  await db.insert(member).values(values);
}

export async function setPassword(db: Queryable, id: string, passwordHash: string): Promise<void> {
  await db.update(member).set({ passwordHash }).where(eq(member.id, id));
}

export async function setRole(db: Queryable, id: string, role: Role): Promise<void> {
  await db.update(member).set({ role }).where(eq(member.id, id));
}

/** Takes every producer's row until the transaction ends, so that two cannot remove each other at once. */
export async function lockProducers(db: Queryable): Promise<string[]> {
  const rows = await db
    .select({ id: member.id })
    .from(member)
    .where(and(eq(member.role, 'producer'), isNull(member.removedAt)))
    .for('update');
  return rows.map((row) => row.id);
}

export async function markRemoved(db: Queryable, id: string, removedAt: number): Promise<void> {
  await db.update(member).set({ removedAt, passwordHash: null }).where(eq(member.id, id));
}

export async function addInvitation(
  db: Queryable,
  values: { tokenHash: string; role: Role; madeBy: string | null; expiresAt: number },
): Promise<void> {
  await db.insert(invitation).values(values);
}

const unused = (tokenHash: string, now: number) =>
  and(eq(invitation.tokenHash, tokenHash), isNull(invitation.usedAt), gt(invitation.expiresAt, now));

export async function findInvitation(db: Queryable, tokenHash: string, now: number) {
  const [row] = await db.select().from(invitation).where(unused(tokenHash, now));
  return row;
}

/** Uses an invitation up; the one who comes second gets undefined. */
export async function useInvitation(db: Queryable, tokenHash: string, now: number) {
  const [row] = await db
    .update(invitation)
    .set({ usedAt: now })
    .where(unused(tokenHash, now))
    .returning({ role: invitation.role });
  return row;
}
