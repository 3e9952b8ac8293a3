import { and, eq, gt } from 'drizzle-orm';
import type { Queryable } from '../database/connect';
import { showPerson } from '../shows/schema';
import { tellSessionsEnded } from '../access/sessions';
import { guestLink } from './schema';

export async function listLinks(db: Queryable, showId: string) {
  const rows = await db.select().from(guestLink).where(eq(guestLink.showId, showId));
  return rows.map(viewOf);
}

/** The hash of somebody's link; undefined: they have none. */
export async function findTokenHash(
  db: Queryable,
  showId: string,
  personId: string,
): Promise<string | undefined> {
  const [row] = await db
    .select({ tokenHash: guestLink.tokenHash })
    .from(guestLink)
    .where(and(eq(guestLink.showId, showId), eq(guestLink.personId, personId)));
  return row?.tokenHash;
}

export async function findGuest(db: Queryable, showId: string, personId: string) {
  const [row] = await db
    .select()
    .from(showPerson)
    .where(and(eq(showPerson.showId, showId), eq(showPerson.id, personId), eq(showPerson.part, 'guest')));
  return row;
}

/** Puts a new link in the place of the one there was; sessions that hang on that one go with it. */
export async function replaceLink(db: Queryable, values: typeof guestLink.$inferInsert) {
  await deleteLink(db, values.showId, values.personId);
  const [row] = await db.insert(guestLink).values(values).returning();
  return viewOf(row!);
}

export async function deleteLink(db: Queryable, showId: string, personId: string): Promise<void> {
  await db.delete(guestLink).where(and(eq(guestLink.showId, showId), eq(guestLink.personId, personId)));
  await tellSessionsEnded(db);
}

/** The link with this hash, marked as used; undefined when there is none or it has expired. */
export async function useLink(db: Queryable, tokenHash: string, now: number) {
  const [row] = await db
    .update(guestLink)
    .set({ usedAt: now })
    .where(and(eq(guestLink.tokenHash, tokenHash), gt(guestLink.expiresAt, now)))
    .returning();
  return row;
}

function viewOf(row: typeof guestLink.$inferSelect) {
  return { personId: row.personId, expiresAtMs: row.expiresAt, usedAtMs: row.usedAt };
}
