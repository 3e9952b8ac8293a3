import * as z from 'zod/mini';
import { Destination } from '../destinations';
import { SettingValues, WrittenSettings } from '../destinations/capabilities';
import { CropDraft, Picture } from './pictures';
import { endpoint, Id, InstantMs, line, Nothing, paragraphs, PlannedMs, right } from '../http';

export * from './pictures';

/** The longest that any place takes is far shorter; this only bounds what is stored. */
export const LISTING_TITLE_MAX = 500;
export const LISTING_DESCRIPTION_MAX = 8000;

export const LISTING_STATES = ['draft', 'booked', 'open', 'ending', 'closed', 'lapsed'] as const;

export const Slot = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('with_show') }),
  /** Minutes after the show's start, within a day; negative: before it. */
  z.object({
    kind: z.literal('offset'),
    minutes: z.int().check(z.minimum(-1440), z.maximum(1440)),
  }),
  z.object({ kind: z.literal('fixed'), atMs: PlannedMs }),
]);

/** How a show is presented at one destination. */
export const Listing = z.object({
  destinationId: Id,
  /** Null: the show's own. */
  title: z.nullable(z.string()),
  description: z.nullable(z.string()),
  slot: Slot,
  /** Its own, without what it inherits. */
  settings: SettingValues,
  /** Its own picture; null: the show's. */
  picture: z.nullable(Picture),
  /** Which part of its picture is shown there; null: the middle. */
  crop: z.nullable(CropDraft),
  /**
   * `draft`: nothing of it is at the place yet; `booked`: an event waits there; `open`: an event is made or the channel
   * is set, and its feed may come; `ending`: it is being ended there, again and again until the place answers;
   * `closed`: it is over there; `lapsed`: the place threw it away.
   */
  state: z.enum(LISTING_STATES),
  /** The slot it has over there; null: none. */
  bookedSlotMs: z.nullable(InstantMs),
  /** When it is booked by itself, since its window was not open yet; null: that was not asked for. */
  bookingDueMs: z.nullable(InstantMs),
  /** What the place has otherwise than we sent it: `title`, `description`, `slot`, or a setting. */
  differs: z.array(z.string()),
  /** Why the last booking, change or look failed, for a person; null: it did not. */
  problem: z.nullable(z.string()),
  /** Where viewers find it; null before the place has said. */
  pageUrl: z.nullable(z.string()),
  /** A player of the place for pages of others; null before the place has said, or where it lets nobody. */
  embedUrl: z.nullable(z.string()),
  /** How far behind the programme its viewers are, s; null: nobody knows. */
  delayS: z.nullable(z.number()),
  /** `measured`: its page says so; `learned`: from how viewers wrote; `rule`: as its place says of all. */
  delayFrom: z.enum(['measured', 'learned', 'rule']),
  /** Who watches there now, as the place counts; null while nobody can know. */
  viewers: z.nullable(z.int()),
});
export type Listing = z.infer<typeof Listing>;

const showParams = z.object({ showId: Id });
const listingParams = z.object({ showId: Id, destinationId: Id });

/** Where a show goes, and how it is presented there. */
export const ListingsView = z.object({
  /** In the order in which the show has them. */
  destinations: z.array(Destination),
  /** One for each destination, in their order. */
  listings: z.array(Listing),
  /** The last events that are contained, of the show's stream `listings` and of the house's `destinations`. */
  seqs: z.object({ listings: z.int(), destinations: z.int() }),
});
export type ListingsView = z.infer<typeof ListingsView>;

export const readListings = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/listings',
  access: right('shows.read'),
  params: showParams,
  body: Nothing,
  response: ListingsView,
});

/** Changes what is given of a listing, and leaves the rest; null goes back to what is inherited. */
export const saveListing = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/listings/:destinationId',
  access: right('shows.edit'),
  params: listingParams,
  body: z.partial(
    z.object({
      title: z.nullable(line(LISTING_TITLE_MAX)),
      description: z.nullable(paragraphs(LISTING_DESCRIPTION_MAX)),
      slot: Slot,
      /** Only those named are changed. */
      settings: WrittenSettings,
      crop: z.nullable(CropDraft),
    }),
  ),
  response: Listing,
});

/** What became of one row of something done at several places. */
export const ListingOutcome = z.object({
  destinationId: Id,
  done: z.boolean(),
  /** Why not, and what to do; null when it was done. */
  sentence: z.nullable(z.string()),
});
export type ListingOutcome = z.infer<typeof ListingOutcome>;

/** The listings meant; null: all of the show. */
const some = z.object({ destinationIds: z.nullable(z.array(Id).check(z.maxLength(50))) });
const outcomes = z.object({ outcomes: z.array(ListingOutcome) });

/**
 * Books listings at their places, or brings what is booked up to date; all at the same time, and each for itself. Asked
 * again, only what is not there is made: an event is never made twice. With `immediate` without a slot.
 */
export const bookListings = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/bookings',
  access: right('shows.edit'),
  params: showParams,
  body: z.extend(some, { immediate: z.boolean() }),
  response: outcomes,
});

/** Takes back what is booked. */
export const cancelBookings = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/bookings/cancel',
  access: right('shows.edit'),
  params: showParams,
  body: some,
  response: outcomes,
});

/** Looks at what is there, and compares it with what we sent. */
export const readBackListings = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/bookings/look',
  access: right('shows.read'),
  params: showParams,
  body: some,
  response: outcomes,
});

/** An event that waits at a place and that no listing of this house has: somebody made it over there. */
export const RemoteEvent = z.object({
  eventRef: z.string(),
  title: z.string(),
  /** Null: without a slot. */
  startsAtMs: z.nullable(InstantMs),
  pageUrl: z.string(),
});
export type RemoteEvent = z.infer<typeof RemoteEvent>;

/** Looks for events that were made over there, the nearest to the listing's slot first. */
export const findRemoteEvents = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/listings/:destinationId/events',
  access: right('shows.edit'),
  params: listingParams,
  body: Nothing,
  response: z.object({ events: z.array(RemoteEvent) }),
});

/** Takes an event that was made over there for this listing. What it has otherwise than the plan is told. */
export const adoptEvent = endpoint({
  method: 'POST',
  path: '/api/shows/:showId/listings/:destinationId/adopt',
  access: right('shows.edit'),
  params: listingParams,
  body: z.object({ eventRef: z.string().check(z.maxLength(200)) }),
  response: Listing,
});

/** Other shows of the team, still to come, that go to the same destination while this one is on as planned. */
export const Clash = z.object({ destinationId: Id, titles: z.array(z.string()) });
export type Clash = z.infer<typeof Clash>;

export const readClashes = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/clashes',
  access: right('shows.read'),
  params: showParams,
  body: Nothing,
  response: z.object({ clashes: z.array(Clash) }),
});

/** What the house wants wherever a place has it: the team's, and of a series where it differs. */
export const HouseDefaults = z.object({
  team: SettingValues,
  bySeries: z.record(z.string(), SettingValues),
  /** How long before the start somebody is at the desk, min. */
  atDeskMinutes: z.int(),
});
export type HouseDefaults = z.infer<typeof HouseDefaults>;

export const readHouseDefaults = endpoint({
  method: 'GET',
  path: '/api/house-defaults',
  access: right('shows.read'),
  params: Nothing,
  body: Nothing,
  response: HouseDefaults,
});

/** Changes the settings that are named; null takes one away. */
export const saveHouseDefaults = endpoint({
  method: 'PUT',
  path: '/api/house-defaults',
  access: right('destinations.manage'),
  params: Nothing,
  body: z.object({
    /** Null: the team's. */
    seriesId: z.nullable(Id),
    settings: WrittenSettings,
    atDeskMinutes: z.optional(z.int().check(z.minimum(0), z.maximum(240))),
  }),
  response: HouseDefaults,
});

/** What was ticked on the launch sheet, by whom and when. Ids are those of `launchSheet` in core. */
export const LaunchTick = z.object({ itemId: z.string(), by: z.nullable(z.string()), atMs: InstantMs });
export type LaunchTick = z.infer<typeof LaunchTick>;

export const readLaunchTicks = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/launch-ticks',
  access: right('shows.read'),
  params: showParams,
  body: Nothing,
  response: z.object({ ticks: z.array(LaunchTick) }),
});

export const tickLaunchItem = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/launch-ticks',
  access: right('desk.open'),
  params: showParams,
  body: z.object({ itemId: z.string().check(z.minLength(1), z.maxLength(200)), done: z.boolean() }),
  response: z.object({ ticks: z.array(LaunchTick) }),
});

/** What became of a show at one destination. */
export const ListingFigures = z.object({
  destinationId: Id,
  /** How long viewers could see it there, ms; null: never, or nobody could look. */
  onAirMs: z.nullable(z.int()),
  /** The most that watched at once, as the place counted; null: it did not say. */
  mostViewers: z.nullable(z.int()),
  /** What viewers wrote there; the house's own words are not counted. */
  messages: z.int(),
});
export type ListingFigures = z.infer<typeof ListingFigures>;

export const readFigures = endpoint({
  method: 'GET',
  path: '/api/shows/:showId/figures',
  access: right('shows.read'),
  params: z.object({ showId: Id }),
  body: Nothing,
  response: z.object({ figures: z.array(ListingFigures) }),
});
