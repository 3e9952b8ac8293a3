import { bigint, index, integer, pgTable, text, uuid, varchar } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { guestLink } from '../people/schema';
import { member } from '../team/schema';

export const session = pgTable(
  'session',
  {
    /** SHA-256 of the cookie's token: a stolen table opens no door. */
    tokenHash: text('token_hash').primaryKey(),
    memberId: uuid('member_id').references(() => member.id, { onDelete: 'cascade' }),
    /** Sessions of guests hang on their link, and go with it. */
    guestLinkId: uuid('guest_link_id').references(() => guestLink.id, { onDelete: 'cascade' }),
    createdAt: instantMs('created_at').notNull(),
    seenAt: instantMs('seen_at').notNull(),
    expiresAt: instantMs('expires_at').notNull(),
  },
  (t) => [index('session_member').on(t.memberId), index('session_expires').on(t.expiresAt)],
);

/** Counted tries, as the package rate-limiter-flexible keeps them, so that a restart forgives nothing. */
export const countedTry = pgTable('counted_try', {
  key: varchar({ length: 255 }).primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
});
