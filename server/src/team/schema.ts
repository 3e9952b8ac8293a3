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
