import { settingOf, type SettingId } from '../listings';
import { bookingTime, slotAt, slotWindow } from '../schedule';
import type { PlannedBroadcast, PlannedListing } from './place';

/** In the order in which they are done where their time is the same. */
const STEPS = [
  'check_gear',
  'at_desk',
  'book',
  'set_by_hand',
  'give_picture',
  'pick_event',
  'start',
  'publish',
  'publish_by_hand',
  'lapse',
] as const;
export type LaunchStep = (typeof STEPS)[number];

/** Something that has to happen for a show. */
export interface LaunchItem {
  /** The same for the same thing at every computing, so that a tick stays where it was put. */
  readonly id: string;
  readonly step: LaunchStep;
  readonly by: 'machine' | 'hand';
  readonly destinationId: string | null;
  /** A setting, where it is about one. */
  readonly setting: SettingId | null;
  readonly value: string | null;
  /** From when it can be done, ms; null: at any time. */
  readonly fromMs: number | null;
  /** By when it has to be done, ms. */
  readonly dueMs: number;
  /** Known to be done, without anybody's tick. */
  readonly done: boolean;
}

const MINUTE_MS = 60_000;
const GEAR_BEFORE_MS = 24 * 60 * MINUTE_MS;

/** Everything that has to happen for a show, by machine and by hand, in order of time. Empty without a start. */
export function launchSheet(show: PlannedBroadcast, nowMs: number): LaunchItem[] {
  const { startsAtMs } = show;
  if (startsAtMs === null) return [];
  const ran = show.startedAtMs !== null;
  const deskMs = startsAtMs - show.atDeskMinutes * MINUTE_MS;
  const items: LaunchItem[] = [
    item('check_gear', 'hand', null, { fromMs: startsAtMs - GEAR_BEFORE_MS, dueMs: deskMs }),
    item('at_desk', 'hand', null, { dueMs: deskMs, done: ran }),
    item('start', 'hand', null, { fromMs: deskMs, dueMs: startsAtMs, done: ran }),
    ...show.listings.flatMap((listing) => itemsOf(show, listing, startsAtMs, nowMs)),
  ];
  const order = (item: LaunchItem) => STEPS.indexOf(item.step);
  return items.sort((a, b) => a.dueMs - b.dueMs || order(a) - order(b) || a.id.localeCompare(b.id));
}

type Rest = Partial<Pick<LaunchItem, 'setting' | 'value' | 'fromMs' | 'done'>> & { dueMs: number };

function item(
  step: LaunchStep,
  by: LaunchItem['by'],
  destinationId: string | null,
  { setting = null, value = null, fromMs = null, done = false, dueMs }: Rest,
): LaunchItem {
  const id = [step, destinationId, setting].filter((part) => part !== null).join(' ');
  return { id, step, by, destinationId, setting, value, fromMs, dueMs, done };
}

function itemsOf(
  show: PlannedBroadcast,
  listing: PlannedListing,
  startsAtMs: number,
  nowMs: number,
): LaunchItem[] {
  const { destinationId, rules, state } = listing;
  const slotMs = slotAt(listing.slot, startsAtMs)!;
  const window = slotWindow(slotMs, rules);
  const items: LaunchItem[] = [];
  const isThere = state !== 'draft' && state !== 'lapsed';
  if (rules.booking.kind === 'by_api') {
    const missed = bookingTime(window, nowMs) === 'too_late' && !isThere;
    // Too late for a slot: the event is made when the feed starts, and viewers see it then.
    if (!missed)
      items.push(
        // By itself only where somebody has asked for it: texts may not be finished.
        item('book', listing.bookingDueMs === null ? 'hand' : 'machine', destinationId, {
          fromMs: window.earliestBookingMs,
          dueMs: window.latestBookingMs!,
          done: isThere,
        }),
      );
  }
  if (rules.booking.kind === 'picked')
    items.push(item('pick_event', 'hand', destinationId, { dueMs: slotMs, done: isThere }));
  for (const setting of rules.settings.filter(({ from }) => from === 'by_hand')) {
    const { value, origin } = settingOf(setting, listing.settings, show.inherited);
    if (origin === 'place') continue;
    const text = Array.isArray(value) ? value.join(', ') : String(value);
    items.push(
      item('set_by_hand', 'hand', destinationId, { setting: setting.id, value: text, dueMs: slotMs }),
    );
  }
  if (rules.picture?.needed && !listing.picture)
    items.push(item('give_picture', 'hand', destinationId, { dueMs: slotMs }));
  if (rules.goingPublic === 'by_api')
    items.push(item('publish', 'hand', destinationId, { fromMs: startsAtMs, dueMs: slotMs }));
  if (rules.goingPublic === 'by_hand' || rules.goingPublic === 'unknown')
    items.push(item('publish_by_hand', 'hand', destinationId, { fromMs: startsAtMs, dueMs: slotMs }));
  if (window.lapseMs !== null)
    items.push(
      item('lapse', 'machine', destinationId, {
        fromMs: slotMs,
        dueMs: window.lapseMs,
        done: state === 'open',
      }),
    );
  return items;
}
