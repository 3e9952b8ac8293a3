import type { Crop, PictureRule, Size, TextRule } from '../listings';
import type { PlaceSetting, InheritedSettings, SettingValues } from '../listings';
import type { PictureFormat } from '../programme/picture-format';
import type { EncoderLimit, EncodingMachine } from '../renditions';
import type { Slot, TimeRules } from '../schedule';

/** What readiness and the launch sheet know of a place's rules. */
export interface PlaceRules extends TimeRules {
  readonly title: TextRule | null;
  readonly description: TextRule | null;
  /** The most hashtags in a description; null: no rule. */
  readonly hashtags: number | null;
  /** `needed`: it announces nothing without one. */
  readonly picture: (PictureRule & { readonly needed: boolean }) | null;
  readonly settings: readonly PlaceSetting[];
  readonly goingPublic: 'on_arrival' | 'from_slot' | 'by_api' | 'by_hand' | 'unknown';
  readonly encoder: EncoderLimit;
  readonly ingest: { readonly key: 'persistent' | 'per_event' | 'either' };
  /** While it is authorised, the place forbids sending elsewhere in public at the same time. */
  readonly exclusive: boolean;
}

/** A listing as its readiness is computed from it. */
export interface PlannedListing {
  readonly destinationId: string;
  readonly rules: PlaceRules;
  /** As it will read there: inherited and filled in. */
  readonly title: string;
  readonly description: string;
  /** Names in braces that nothing is filled in for. */
  readonly unknownPlaceholders: readonly string[];
  /** Placeholders for which there is nothing yet: they leave a hole. */
  readonly emptyPlaceholders: readonly string[];
  readonly slot: Slot;
  /** The picture that it has or inherits, and which part of it is shown; null: none. */
  readonly picture: (Size & { readonly crop: Crop | null }) | null;
  /** Its own settings, without what it inherits. */
  readonly settings: SettingValues;
  readonly state: 'draft' | 'booked' | 'open' | 'ending' | 'closed' | 'lapsed';
  /** The slot that was booked there; null: none is. */
  readonly bookedSlotMs: number | null;
  /** When it is booked by itself, because its window was not open yet; null: nobody asked for that. */
  readonly bookingDueMs: number | null;
  /** Settings and texts that the place has otherwise than we sent them. */
  readonly differs: readonly string[];
  /** `lost`: the place no longer takes our authorisation; `none`: it is reached by address and key. */
  readonly account: 'good' | 'lost' | 'none';
  /** Other shows of the team at about the same time that go there by the same persistent key. */
  readonly keyUsedBy: readonly string[];
}

/** A show with its listings, and what the team has laid down. */
export interface PlannedBroadcast {
  readonly startsAtMs: number | null;
  readonly plannedMinutes: number;
  readonly pictureFormat: PictureFormat;
  /** Where it may be encoded for places that do not take that; null: not known, so nothing is counted on. */
  readonly machine: EncodingMachine | null;
  /** Minutes after midnight at which the series usually starts, and this show does, both in its zone. */
  readonly usualStartMinute: number | null;
  readonly startMinute: number | null;
  readonly startedAtMs: number | null;
  readonly endedAtMs: number | null;
  readonly archivedAtMs: number | null;
  readonly listings: readonly PlannedListing[];
  /** What its listings inherit. */
  readonly inherited: InheritedSettings;
  /** How long before the start somebody is at the desk, min. */
  readonly atDeskMinutes: number;
}
