import * as z from 'zod/mini';
import { endpoint, Id, line, Nothing, right } from '../http';

/** The longest that any place takes is far shorter; this only bounds what is stored. */
export const LISTING_TITLE_MAX = 500;

export const LISTING_STATES = ['draft', 'open', 'ending', 'closed'] as const;

/** How a show is presented at one destination. */
export const Listing = z.object({
  destinationId: Id,
  /** Null: the show's own. */
  title: z.nullable(z.string()),
  /**
   * `draft`: nothing of it is at the place yet; `open`: an event is made or the channel is set; `ending`: it is being
   * ended there, again and again until the place answers; `closed`: it is over there.
   */
  state: z.enum(LISTING_STATES),
  /** Where viewers find it; null before the place has said. */
  pageUrl: z.nullable(z.string()),
  /** Who watches there now, as the place counts; null while nobody can know. */
  viewers: z.nullable(z.int()),
});
export type Listing = z.infer<typeof Listing>;

/** Gives a listing a title of its own; null goes back to the show's. */
export const saveListing = endpoint({
  method: 'PUT',
  path: '/api/shows/:showId/listings/:destinationId',
  access: right('shows.edit'),
  params: z.object({ showId: Id, destinationId: Id }),
  body: z.object({ title: z.nullable(line(LISTING_TITLE_MAX)) }),
  response: Listing,
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
