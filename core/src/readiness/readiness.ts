import {
  countHashtags,
  cutOf,
  isSmall,
  overLength,
  settingOf,
  type SettingId,
  type SettingValue,
} from '../listings';
import { beyondLimit } from '../programme/picture-format';
import { getsOf, planProgramme, type ProgrammePlan } from '../renditions';
import { bookingTime, slotAt, slotWindow, type SlotWindow } from '../schedule';
import type { FindingLevel } from '../shows';
import type { PlannedBroadcast, PlannedListing } from './place';

/** What can be done about a finding with one press. Each can be undone by its opposite. */
export type Fix =
  | { readonly kind: 'shorten'; readonly field: 'title' | 'description' }
  | { readonly kind: 'set'; readonly setting: SettingId; readonly value: SettingValue }
  | { readonly kind: 'book' }
  /** A new listing at once, without a slot. */
  | { readonly kind: 'book_anew' }
  /** Sends our values once more. */
  | { readonly kind: 'push' }
  | { readonly kind: 'move_12_hours' };

export interface PlaceFinding {
  readonly level: FindingLevel;
  readonly code: FindingCode;
  /** Null: it is about the whole show. */
  readonly destinationId: string | null;
  /** The field or setting that it is about. */
  readonly field: string | null;
  /** By when something has to be done, ms; null: before the start. */
  readonly deadlineMs: number | null;
  readonly fix: Fix | null;
  /** Figures for the sentence: how many too many, of how many. */
  readonly count: number | null;
  /** What the sentence names: a value, or other shows. */
  readonly names: readonly string[];
}

export type FindingCode =
  | 'no_destination'
  | 'text_too_long'
  | 'text_missing'
  | 'too_many_hashtags'
  | 'unknown_placeholder'
  | 'empty_placeholder'
  | 'disclosure_missing'
  | 'disclosure_unsaid'
  | 'picture_missing'
  | 'picture_small'
  | 'frame_too_large'
  | 'frames_too_many'
  | 'no_room_to_encode'
  | 'encoded_apart'
  | 'no_upright'
  | 'setting_missing'
  | 'account_lost'
  | 'key_used_twice'
  | 'exclusive'
  | 'slot_past'
  | 'slot_moved'
  | 'not_booked'
  | 'window_not_open'
  | 'booking_waits'
  | 'window_missed'
  | 'will_lapse'
  | 'lapsed'
  | 'too_long'
  | 'differs'
  | 'by_hand'
  | 'left_wrong'
  | 'twelve_hours'
  | 'at_night';

const ORDER: readonly FindingLevel[] = ['block', 'warning', 'advice'];
const MINUTE_MS = 60_000;
/**
 * Words by which a text says that somebody paid for it. Many countries ask for that in words, whatever the law here and
 * the rules of the place are; and viewers are in many.
 */
const SAYS_WHO_PAYS =
  /paid|sponsor|advert|promo|werbung|anzeige|gesponsert|publicidad|patrocin|publicité|parrain|pubblicit/i;

/**
 * What is not ready about a show at its destinations: the gravest first, then by deadline. Pure: the same for the same
 * show and instant. Nothing is found about shows that are over or put away.
 */
export function readiness(show: PlannedBroadcast, nowMs: number): PlaceFinding[] {
  if (show.endedAtMs !== null || show.archivedAtMs !== null) return [];
  const findings = [...aboutTime(show), ...exclusive(show)];
  if (show.listings.length === 0) findings.push(finding('block', 'no_destination', null));
  const plan = planProgramme(
    show.pictureFormat,
    show.listings.map(({ destinationId, rules: { encoder } }) => ({ id: destinationId, encoder })),
    show.machine,
  );
  for (const listing of show.listings) {
    if (listing.state === 'closed' || listing.state === 'ending') continue;
    findings.push(...aboutTexts(listing), ...aboutSettings(show, listing), ...aboutReach(listing));
    findings.push(...aboutFormat(show, listing, plan));
    if (show.startedAtMs === null) findings.push(...aboutSlot(show, listing, nowMs));
  }
  const at = ({ deadlineMs }: PlaceFinding) => deadlineMs ?? Infinity;
  return findings.sort(
    (a, b) => ORDER.indexOf(a.level) - ORDER.indexOf(b.level) || (at(a) < at(b) ? -1 : at(a) > at(b) ? 1 : 0),
  );
}

type Rest = Partial<Omit<PlaceFinding, 'level' | 'code' | 'destinationId'>>;

function finding(
  level: FindingLevel,
  code: FindingCode,
  destinationId: string | null,
  { field = null, deadlineMs = null, fix = null, count = null, names = [] }: Rest = {},
): PlaceFinding {
  return { level, code, destinationId, field, deadlineMs, fix, count, names };
}

const NIGHT_UNTIL_MINUTE = 6 * 60;
const HALF_A_DAY_MINUTES = 12 * 60;

/** The classic slips: twelve hours from the usual time, or a time at which nobody is awake. */
function aboutTime({ startMinute, usualStartMinute }: PlannedBroadcast): PlaceFinding[] {
  if (startMinute === null) return [];
  if (usualStartMinute !== null && Math.abs(startMinute - usualStartMinute) === HALF_A_DAY_MINUTES)
    return [finding('warning', 'twelve_hours', null, { field: 'start', fix: { kind: 'move_12_hours' } })];
  if (startMinute < NIGHT_UNTIL_MINUTE && (usualStartMinute ?? Infinity) >= NIGHT_UNTIL_MINUTE)
    return [finding('warning', 'at_night', null, { field: 'start' })];
  return [];
}

/** A place that forbids others at the same time: by key it does not. */
function exclusive({ listings }: PlannedBroadcast): PlaceFinding[] {
  if (listings.length < 2) return [];
  return listings
    .filter(({ rules, account }) => rules.exclusive && account === 'good')
    .map(({ destinationId }) =>
      finding('warning', 'exclusive', destinationId, { count: listings.length - 1 }),
    );
}

/**
 * A place that gets more than it takes may show nothing at all, and says so only when it is on air: it gets a picture of its
 * own, or nothing.
 */
function aboutFormat(
  { pictureFormat }: PlannedBroadcast,
  { destinationId, rules: { encoder } }: PlannedListing,
  plan: ProgrammePlan,
): PlaceFinding[] {
  const gets = getsOf(plan, destinationId);
  if (gets.kind === 'programme') return [];
  if (gets.kind === 'rendition') {
    const { shape, height, rateHz, videoKbps } = gets.rendition;
    const names = [height, rateHz, videoKbps, shape].map(String);
    return [finding('advice', 'encoded_apart', destinationId, { names })];
  }
  const beyond = beyondLimit(pictureFormat, encoder);
  if (beyond === 'shape') return [finding('block', 'no_upright', destinationId)];
  if (beyond === 'size')
    return [finding('block', 'frame_too_large', destinationId, { count: encoder.maxHeight })];
  return beyond === 'rate'
    ? [finding('block', 'frames_too_many', destinationId, { count: encoder.maxFramesPerS })]
    : [finding('block', 'no_room_to_encode', destinationId, { count: encoder.maxKbps })];
}

function aboutTexts({ destinationId, rules, ...listing }: PlannedListing): PlaceFinding[] {
  const found: PlaceFinding[] = [];
  if (listing.title.trim() === '')
    found.push(finding('block', 'text_missing', destinationId, { field: 'title' }));
  for (const field of ['title', 'description'] as const) {
    const over = overLength(listing[field], rules[field]);
    if (over > 0)
      found.push(
        finding('block', 'text_too_long', destinationId, {
          field,
          count: over,
          fix: { kind: 'shorten', field },
        }),
      );
  }
  const hashtags = rules.description ? countHashtags(listing.description) : 0;
  if (rules.hashtags !== null && hashtags > rules.hashtags)
    found.push(
      finding('block', 'too_many_hashtags', destinationId, {
        field: 'description',
        count: hashtags - rules.hashtags,
      }),
    );
  for (const name of listing.unknownPlaceholders)
    found.push(finding('warning', 'unknown_placeholder', destinationId, { names: [name] }));
  for (const name of listing.emptyPlaceholders)
    found.push(finding('warning', 'empty_placeholder', destinationId, { names: [name] }));
  found.push(...aboutPicture(destinationId, rules.picture, listing.picture));
  return found;
}

function aboutPicture(
  destinationId: string,
  rule: PlannedListing['rules']['picture'],
  picture: PlannedListing['picture'],
): PlaceFinding[] {
  if (!rule) return [];
  const about = { field: 'picture' };
  if (!picture) return rule.needed ? [finding('warning', 'picture_missing', destinationId, about)] : [];
  const small = isSmall(cutOf(picture, rule.aspect, picture.crop), rule);
  return small ? [finding('advice', 'picture_small', destinationId, { ...about, count: rule.minWidth })] : [];
}

function aboutSettings({ inherited }: PlannedBroadcast, listing: PlannedListing): PlaceFinding[] {
  const { destinationId, rules } = listing;
  const found: PlaceFinding[] = [];
  const valueOf = (id: SettingId) => {
    const setting = rules.settings.find((one) => one.id === id);
    return setting ? settingOf(setting, listing.settings, inherited).value : null;
  };
  for (const setting of rules.settings) {
    const { value, origin } = settingOf(setting, listing.settings, inherited);
    const empty = value === null || value === '';
    if (setting.required && empty) {
      found.push(finding('block', 'setting_missing', destinationId, { field: setting.id }));
      continue;
    }
    // What the house wants and nobody can set from outside has to be done over there.
    if (setting.from === 'by_hand' && origin !== 'place')
      found.push(finding('advice', 'by_hand', destinationId, { field: setting.id, names: [String(value)] }));
  }
  if (valueOf('sponsored') === true) {
    const asksFor = rules.settings.some(({ id }) => id === 'disclosure');
    if (asksFor && !valueOf('disclosure'))
      found.push(finding('block', 'disclosure_missing', destinationId, { field: 'disclosure' }));
    const saysSo = SAYS_WHO_PAYS.test(`${listing.title} ${listing.description}`);
    if (!asksFor && rules.description !== null && !saysSo)
      found.push(finding('warning', 'disclosure_unsaid', destinationId, { field: 'description' }));
  }
  found.push(...leftWrong(listing, inherited));
  return found;
}

/** What the house wants otherwise everywhere else and this listing alone has as the place leaves it. */
function leftWrong(
  { destinationId, rules, settings }: PlannedListing,
  inherited: PlannedBroadcast['inherited'],
): PlaceFinding[] {
  return rules.settings.flatMap((setting) => {
    const own = settingOf(setting, settings, inherited);
    const house = settingOf(setting, {}, inherited);
    if (own.origin !== 'own' || house.origin !== 'house') return [];
    if (JSON.stringify(own.value) === JSON.stringify(house.value)) return [];
    const fix: Fix = { kind: 'set', setting: setting.id, value: null };
    return [
      finding('advice', 'left_wrong', destinationId, {
        field: setting.id,
        fix,
        names: [String(house.value)],
      }),
    ];
  });
}

function aboutReach({ destinationId, rules, ...listing }: PlannedListing): PlaceFinding[] {
  const found: PlaceFinding[] = [];
  if (listing.account === 'lost') found.push(finding('block', 'account_lost', destinationId));
  if (rules.ingest.key === 'persistent' && listing.keyUsedBy.length > 0)
    found.push(finding('block', 'key_used_twice', destinationId, { names: listing.keyUsedBy }));
  if (listing.differs.length > 0)
    found.push(
      finding('warning', 'differs', destinationId, {
        field: listing.differs[0]!,
        names: listing.differs,
        fix: { kind: 'push' },
      }),
    );
  return found;
}

function aboutSlot(show: PlannedBroadcast, listing: PlannedListing, nowMs: number): PlaceFinding[] {
  const { destinationId, rules, state } = listing;
  if (state === 'lapsed') return [finding('block', 'lapsed', destinationId, { fix: { kind: 'book_anew' } })];
  const slotMs = slotAt(listing.slot, show.startsAtMs);
  if (slotMs === null) return [];
  const window = slotWindow(slotMs, rules);
  const found: PlaceFinding[] = [];
  const endsMs = slotMs + show.plannedMinutes * MINUTE_MS;
  if (window.longestEndMs !== null && endsMs > window.longestEndMs)
    found.push(
      finding('warning', 'too_long', destinationId, {
        deadlineMs: window.longestEndMs,
        count: Math.ceil((endsMs - window.longestEndMs) / MINUTE_MS),
      }),
    );
  if (state === 'booked') return [...found, ...aboutBooked(show, listing, window, nowMs)];
  return [...found, ...aboutBooking(listing, window, nowMs)];
}

function aboutBooked(
  show: PlannedBroadcast,
  { destinationId, bookedSlotMs }: PlannedListing,
  window: SlotWindow,
  nowMs: number,
): PlaceFinding[] {
  if (bookedSlotMs !== null && bookedSlotMs !== window.slotMs)
    return [
      finding('block', 'slot_moved', destinationId, {
        field: 'slot',
        deadlineMs: window.latestBookingMs,
        fix: { kind: 'book' },
      }),
    ];
  if (window.lapseMs === null || nowMs > window.lapseMs) return [];
  // Said when the day has come: before that it is only a rule.
  const soonMs = window.slotMs - show.atDeskMinutes * MINUTE_MS;
  return [
    finding(nowMs >= soonMs ? 'warning' : 'advice', 'will_lapse', destinationId, {
      deadlineMs: window.lapseMs,
    }),
  ];
}

function aboutBooking(
  { destinationId, bookingDueMs }: PlannedListing,
  window: SlotWindow,
  nowMs: number,
): PlaceFinding[] {
  switch (bookingTime(window, nowMs)) {
    case 'too_early':
      return [
        bookingDueMs === null
          ? finding('warning', 'window_not_open', destinationId, {
              deadlineMs: window.earliestBookingMs,
              fix: { kind: 'book' },
            })
          : finding('advice', 'booking_waits', destinationId, { deadlineMs: window.earliestBookingMs }),
      ];
    case 'open':
      return [
        finding('warning', 'not_booked', destinationId, {
          deadlineMs: window.latestBookingMs,
          fix: { kind: 'book' },
        }),
      ];
    case 'too_late':
      return window.slotMs < nowMs
        ? [finding('warning', 'slot_past', destinationId, { field: 'slot' })]
        : [
            finding('warning', 'window_missed', destinationId, {
              field: 'slot',
              deadlineMs: window.slotMs,
              fix: { kind: 'book_anew' },
            }),
          ];
    case 'not_bookable':
      return [];
  }
}
