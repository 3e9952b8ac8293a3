import type { Destination, PlaceAccount } from '@juncta/contract/destinations';
import type { Clash, HouseDefaults, Listing } from '@juncta/contract/listings';
import type { Series, Show } from '@juncta/contract/shows';
import {
  inheritedSettings,
  present,
  type InheritedSettings,
  type Presented,
  type ShowFacts,
} from '@juncta/core/listings';
import type { EncodingMachine } from '@juncta/core/renditions';
import type { PlannedBroadcast, PlannedListing } from '@juncta/core/readiness';

/** All that a show's readiness is computed from. */
export interface BroadcastParts {
  readonly show: Show;
  readonly others: readonly Show[];
  readonly series: Series | null;
  readonly destinations: readonly Destination[];
  readonly listings: readonly Listing[];
  readonly accounts: readonly PlaceAccount[];
  readonly defaults: HouseDefaults;
  /** Other shows at about the same time that go to the same destinations. */
  readonly clashes: readonly Clash[];
  readonly machine: EncodingMachine | null;
}

/** One row of the board: a destination, its listing, and how that will read. */
export interface ListingEntry {
  readonly destination: Destination;
  readonly listing: Listing;
  readonly presented: Presented;
}

export function rowsOf({ show, series, destinations, listings }: BroadcastParts): ListingEntry[] {
  const facts: ShowFacts = {
    startsAtMs: show.startsAtMs,
    zone: show.text.start?.zone ?? null,
    people: show.text.people,
    series,
  };
  return destinations.flatMap((destination) => {
    const listing = listings.find(({ destinationId }) => destinationId === destination.id);
    return listing ? [{ destination, listing, presented: present(facts, show.text, listing) }] : [];
  });
}

/** What the listings of a show inherit: what it shares, then its series' defaults, then the team's. */
export function inheritedOf({ text, shared }: Show, { team, bySeries }: HouseDefaults): InheritedSettings {
  const series = text.seriesId === null ? undefined : bySeries[text.seriesId];
  return inheritedSettings(shared, series ? [series, team] : [team]);
}

export function broadcastOf(parts: BroadcastParts, rows: readonly ListingEntry[]): PlannedBroadcast {
  const { show, others, defaults, machine } = parts;
  return {
    startsAtMs: show.startsAtMs,
    plannedMinutes: show.text.plannedMinutes,
    pictureFormat: show.pictureFormat,
    machine,
    startMinute: minuteOf(show),
    usualStartMinute: usualMinute(show, others),
    startedAtMs: show.startedAtMs,
    endedAtMs: show.endedAtMs,
    archivedAtMs: show.archivedAtMs,
    inherited: inheritedOf(show, defaults),
    atDeskMinutes: defaults.atDeskMinutes,
    listings: rows.map((row) => plannedListing(row, parts)),
  };
}

function plannedListing(
  { destination, listing, presented }: ListingEntry,
  { show, accounts, clashes }: BroadcastParts,
): PlannedListing {
  const account = accounts.find(({ id }) => id === destination.accountId);
  return {
    destinationId: destination.id,
    rules: destination.rules.capabilities,
    title: presented.title,
    description: presented.description,
    unknownPlaceholders: presented.unknown,
    emptyPlaceholders: presented.missing,
    slot: listing.slot,
    picture: pictureOf(show, listing),
    settings: listing.settings,
    state: listing.state,
    bookedSlotMs: listing.bookedSlotMs,
    bookingDueMs: listing.bookingDueMs,
    differs: listing.differs,
    account: account?.state ?? 'none',
    keyUsedBy: clashes.find(({ destinationId }) => destinationId === destination.id)?.titles ?? [],
  };
}

/** Its own, or the one that all listings share. */
function pictureOf(show: Show, listing: Listing): PlannedListing['picture'] {
  const picture = listing.picture ?? show.picture;
  return picture && { ...picture, crop: listing.crop };
}

/** Minutes after midnight, by the wall clock of the show's own zone. */
function minuteOf({ text: { start } }: Show): number | null {
  const parts = /T(\d\d):(\d\d)$/.exec(start?.local ?? '');
  return parts ? Number(parts[1]) * 60 + Number(parts[2]) : null;
}

/** When the series mostly starts; null while two of its shows do not agree on anything. */
function usualMinute(show: Show, others: readonly Show[]): number | null {
  if (show.text.seriesId === null) return null;
  const counts = new Map<number, number>();
  for (const other of others) {
    if (other.id === show.id || other.text.seriesId !== show.text.seriesId) continue;
    const minute = minuteOf(other);
    if (minute !== null) counts.set(minute, (counts.get(minute) ?? 0) + 1);
  }
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return most && most[1] >= 2 ? most[0] : null;
}
