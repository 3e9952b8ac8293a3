import { sql } from 'drizzle-orm';
import { pgTable, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';

export const member = pgTable(
  'member',
  {
    id: uuid().primaryKey(),
    name: text().notNull(),
    /** In lower case. */
    email: text().notNull(),
    role: text({ enum: ['producer', 'host', 'moderator'] }).notNull(),
    /** See `passwords.ts`. Null: this account has no password, as in the demo. */
    passwordHash: text('password_hash'),
    joinedAt: instantMs('joined_at').notNull(),
    /** Removed members are kept, because what they did keeps their name. */
    removedAt: instantMs('removed_at'),
  },
  (t) => [
    uniqueIndex('member_email')
      .on(t.email)
      .where(sql`${t.removedAt} is null`),
  ],
);

export const invitation = pgTable('invitation', {
  tokenHash: text('token_hash').primaryKey(),
  role: text({ enum: ['producer', 'host', 'moderator'] }).notNull(),
  /** Null: made by the start command for the first producer. */
  madeBy: uuid('made_by').references(() => member.id),
  expiresAt: instantMs('expires_at').notNull(),
  usedAt: instantMs('used_at'),
});

/** By which a member who cannot sign in sets a new password. At most one of each member is good. */
export const passwordLink = pgTable('password_link', {
  memberId: uuid('member_id')
    .primaryKey()
    .references(() => member.id),
  /** What is told once is kept as a hash only. */
  tokenHash: text('token_hash').notNull(),
  madeBy: uuid('made_by')
    .notNull()
    .references(() => member.id),
  expiresAt: instantMs('expires_at').notNull(),
});
