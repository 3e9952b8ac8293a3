import { DESTINATION_KINDS } from '@juncta/contract/destinations';
import { TILE_PATTERNS } from '@juncta/core/destinations';
import { LISTING_STATES } from '@juncta/contract/listings';
import { boolean, integer, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { show } from '../shows/schema';

export const destination = pgTable('destination', {
  id: uuid().primaryKey(),
  name: text().notNull(),
  code: text().notNull(),
  pattern: text({ enum: TILE_PATTERNS }).notNull(),
  kind: text({ enum: DESTINATION_KINDS }).notNull(),
  address: text().notNull(),
  /** A stream key or a place's lasting token, locked by `SecretBox`; null once the destination is removed. */
  secret: text(),
  pageUrl: text('page_url'),
  addedAt: instantMs('added_at').notNull(),
  /** Removed ones are kept for what finished shows say of them. */
  removedAt: instantMs('removed_at'),
});

export const showDestination = pgTable(
  'show_destination',
  {
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    destinationId: uuid('destination_id')
      .notNull()
      .references(() => destination.id),
    position: integer().notNull(),
    /** The listing's own title; null: the show's. */
    title: text(),
    listingState: text('listing_state', { enum: LISTING_STATES }).notNull().default('draft'),
    /** The place's own name of the event that carries this listing; null where it has none. */
    eventRef: text('event_ref'),
    pageUrl: text('page_url'),
    /** The most that watched at once; null: the place never said. */
    mostViewers: integer('most_viewers'),
    /** Whether its chat is followed. */
    chatOpen: boolean('chat_open').notNull().default(false),
    /** How far its chat was read, in the place's own terms. */
    chatCursor: text('chat_cursor'),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId] })],
);
