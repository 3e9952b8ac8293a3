import { DESTINATION_KINDS, type EncoderLimit, type LineTest } from '@juncta/contract/destinations';
import { CORRECTABLES, TILE_PATTERNS } from '@juncta/core/destinations';
import { LISTING_STATES, type Picture } from '@juncta/contract/listings';
import type { Crop, SettingValues } from '@juncta/core/listings';
import type { Slot } from '@juncta/core/schedule';
import { boolean, integer, jsonb, pgTable, primaryKey, text, unique, uuid } from 'drizzle-orm/pg-core';
import { instantMs } from '../database/columns';
import { show } from '../shows/schema';
import { member } from '../team/schema';

/** Figures of places' rules that the team corrected; the newest of each counts. */
export const ruleCorrection = pgTable('rule_correction', {
  id: uuid().primaryKey(),
  kind: text({ enum: DESTINATION_KINDS }).notNull(),
  rule: text({ enum: CORRECTABLES }).notNull(),
  was: integer().notNull(),
  is: integer().notNull(),
  /** `YYYY-MM-DD`. */
  since: text().notNull(),
  source: text().notNull(),
  memberId: uuid('member_id').references(() => member.id),
  writtenAt: instantMs('written_at').notNull(),
});

/** Refusals that contradict our rules, until somebody has looked at them. */
export const ruleAlarm = pgTable(
  'rule_alarm',
  {
    id: uuid().primaryKey(),
    kind: text({ enum: DESTINATION_KINDS }).notNull(),
    rule: text({ enum: CORRECTABLES }).notNull(),
    ours: integer().notNull(),
    theirs: integer().notNull(),
    raisedAt: instantMs('raised_at').notNull(),
    dismissedAt: instantMs('dismissed_at'),
  },
  (t) => [unique('rule_alarm_once').on(t.kind, t.rule, t.ours, t.theirs)],
);

/** An account at a place, whose owner has let us in. */
export const placeAccount = pgTable('place_account', {
  id: uuid().primaryKey(),
  kind: text({ enum: DESTINATION_KINDS }).notNull(),
  /** The place's own name of it: the same account connected again is the same. */
  placeAccountId: text('place_account_id').notNull(),
  name: text().notNull(),
  address: text().notNull(),
  /** The lasting token, locked by `SecretBox` for this account. */
  secret: text().notNull(),
  scopes: text().array().notNull(),
  widest: text(),
  /** When the place last said that it does not take our token any more; null: it does. */
  lostAt: instantMs('lost_at'),
  connectedAt: instantMs('connected_at').notNull(),
});

/** Authorisations that were begun and have not come back (RFC 6749, 4.1.1; RFC 7636). Each is good once. */
export const connecting = pgTable('connecting', {
  /** SHA-256 of the state that comes back with the browser. */
  stateHash: text('state_hash').primaryKey(),
  kind: text({ enum: DESTINATION_KINDS }).notNull(),
  /** The verifier, locked. */
  verifier: text().notNull(),
  redirectUri: text('redirect_uri').notNull(),
  accountId: uuid('account_id'),
  memberId: uuid('member_id').notNull(),
  expiresAt: instantMs('expires_at').notNull(),
});

export const destination = pgTable('destination', {
  id: uuid().primaryKey(),
  name: text().notNull(),
  code: text().notNull(),
  pattern: text({ enum: TILE_PATTERNS }).notNull(),
  kind: text({ enum: DESTINATION_KINDS }).notNull(),
  address: text().notNull(),
  /** A stream key, locked by `SecretBox`; null where an account has one instead, and once it is removed. */
  secret: text(),
  accountId: uuid('account_id').references(() => placeAccount.id),
  placement: jsonb().$type<{ id: string; kind: string; name: string }>(),
  pageUrl: text('page_url'),
  /** What it takes at most, where the team knows better than the rules of its kind; null: it does not. */
  encoderLimit: jsonb('encoder_limit').$type<EncoderLimit>(),
  /** The last test of its line; null: none yet. */
  lineTest: jsonb('line_test').$type<LineTest>(),
  /** An event made for a test of the line that may still be there. */
  lineTestEvent: text('line_test_event'),
  /** Where feeds go in, chosen by a person; null: the nearest. */
  region: text(),
  /** By the last measuring. */
  nearestRegion: text('nearest_region'),
  addedAt: instantMs('added_at').notNull(),
  /** Removed ones are kept for what finished shows say of them. */
  removedAt: instantMs('removed_at'),
});

/** What a place was last told of a listing. */
export interface SentListing {
  readonly title: string;
  readonly description: string;
  readonly startsAtMs: number | null;
  readonly settings: SettingValues;
}

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
    description: text(),
    slot: jsonb().$type<Slot>().notNull().default({ kind: 'with_show' }),
    /** Its own settings, without what it inherits. */
    settings: jsonb().$type<SettingValues>().notNull().default({}),
    /** Its own picture; null: the show's. */
    picture: jsonb().$type<Picture>(),
    crop: jsonb().$type<Crop>(),
    /** The event and the picture that was last sent to it. */
    sentPicture: text('sent_picture'),
    listingState: text('listing_state', { enum: LISTING_STATES }).notNull().default('draft'),
    /** The place's own name of the event that carries this listing; null where it has none. */
    eventRef: text('event_ref'),
    pageUrl: text('page_url'),
    embedUrl: text('embed_url'),
    /** The slot that it has at its place. */
    bookedSlot: instantMs('booked_slot'),
    /** When it is to be booked by itself. */
    bookingDue: instantMs('booking_due'),
    /** What was last sent there, for comparing; null: nothing. */
    sent: jsonb().$type<SentListing>(),
    differs: text().array().notNull().default([]),
    /** Why the last thing tried there failed. */
    problem: text(),
    /** The most that watched at once; null: the place never said. */
    mostViewers: integer('most_viewers'),
    /** How far behind the programme its viewers are, ms; null: nothing but its rules says so. */
    viewerDelayMs: integer('viewer_delay_ms'),
    /** Said by its page, or learned from how they wrote. */
    viewerDelayFrom: text('viewer_delay_from', { enum: ['measured', 'learned'] }),
    /** Whether its chat is followed. */
    chatOpen: boolean('chat_open').notNull().default(false),
    /** Since when its chat is this show's; null: it was never opened. */
    chatOpenedAt: instantMs('chat_opened_at'),
    /** How far its chat was read, in the place's own terms. */
    chatCursor: text('chat_cursor'),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId] })],
);

/** What was written for listings that were taken off a show's board: put back on it, they are as they were. */
export const listingOff = pgTable(
  'listing_off',
  {
    showId: uuid('show_id')
      .notNull()
      .references(() => show.id, { onDelete: 'cascade' }),
    destinationId: uuid('destination_id')
      .notNull()
      .references(() => destination.id),
    title: text(),
    description: text(),
    slot: jsonb().$type<Slot>().notNull(),
    settings: jsonb().$type<SettingValues>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.showId, t.destinationId] })],
);

/** A named group of destinations. */
export const namedRoute = pgTable('named_route', {
  id: uuid().primaryKey(),
  name: text().notNull().unique(),
});

export const routeDestination = pgTable(
  'route_destination',
  {
    routeId: uuid('route_id')
      .notNull()
      .references(() => namedRoute.id, { onDelete: 'cascade' }),
    destinationId: uuid('destination_id')
      .notNull()
      .references(() => destination.id),
    position: integer().notNull(),
    settings: jsonb().$type<SettingValues>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.routeId, t.destinationId] })],
);
