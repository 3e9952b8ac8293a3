import type { Dressing } from '@juncta/core/dressing';
import { integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core';
import { bytes, instantMs } from '../database/columns';

/** How programmes look. */
export const dressing = pgTable('dressing', {
  /** `team`, or the id of a series. */
  scope: text().primaryKey(),
  dressing: jsonb().$type<Dressing>().notNull(),
});

/** Typefaces of dressings that a house sent (WOFF2). */
export const dressingFont = pgTable('dressing_font', {
  /** By what is in it. */
  id: text().primaryKey(),
  bytes: bytes().notNull(),
  /** When it was sent last. */
  sentAt: instantMs('sent_at').notNull(),
});

/** Pictures of dressings: logos, backdrops and overlays. */
export const dressingImage = pgTable('dressing_image', {
  /** By what is in it. */
  id: text().primaryKey(),
  /** WebP of those that move alone. */
  type: text().$type<'image/png' | 'image/jpeg' | 'image/webp'>().notNull(),
  width: integer().notNull(),
  height: integer().notNull(),
  /** Of its motion; null: it does not move. */
  lengthMs: integer('length_ms'),
  bytes: bytes().notNull(),
  /** When it was sent last. */
  sentAt: instantMs('sent_at').notNull(),
});
