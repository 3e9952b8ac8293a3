import { foreignKey, pgTable, text, unique, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { showPerson } from '../shows/schema';

/** The personal link by which a guest comes in: one for each person of a show, replaced when made anew. */
export const guestLink = pgTable(
  'guest_link',
  {
    id: uuid().primaryKey(),
    showId: uuid('show_id').notNull(),
    personId: uuid('person_id').notNull(),
    tokenHash: text('token_hash').notNull().unique(),
    expiresAt: instantMs('expires_at').notNull(),
    usedAt: instantMs('used_at'),
  },
  (t) => [
    unique('guest_link_person').on(t.showId, t.personId),
    foreignKey({
      columns: [t.showId, t.personId],
      foreignColumns: [showPerson.showId, showPerson.id],
    }).onDelete('cascade'),
  ],
);
