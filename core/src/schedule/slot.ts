/** When a listing's viewers are told to come: with the show, some minutes from it, or at a time of its own. */
export type Slot =
  | { readonly kind: 'with_show' }
  /** Minutes after the show's start; negative: before it. */
  | { readonly kind: 'offset'; readonly minutes: number }
  | { readonly kind: 'fixed'; readonly atMs: number };

/** The instant of a slot, ms; null while the show has no start that it could go by. */
export function slotAt(slot: Slot, showStartsAtMs: number | null): number | null {
  if (slot.kind === 'fixed') return slot.atMs;
  if (showStartsAtMs === null) return null;
  return showStartsAtMs + (slot.kind === 'offset' ? slot.minutes * MINUTE_MS : 0);
}

const MINUTE_MS = 60_000;

/** What a place's rules say about time. */
export interface TimeRules {
  readonly booking:
    | { readonly kind: 'by_api'; readonly leastMinutes: number; readonly mostMinutes: number }
    | { readonly kind: 'picked' | 'none' };
  readonly lateStart: { readonly kind: 'waits' } | { readonly kind: 'lapses'; readonly afterMinutes: number };
  readonly longestMinutes: number | null;
}

/** The deadlines of one slot, ms; null where the place sets none. All of them are inclusive. */
export interface SlotWindow {
  readonly slotMs: number;
  /** Not before this can it be booked, … */
  readonly earliestBookingMs: number | null;
  /** … and not after this. */
  readonly latestBookingMs: number | null;
  /** Nothing received by then: the place throws the event away. */
  readonly lapseMs: number | null;
  /** The place ends a show that began at its slot. */
  readonly longestEndMs: number | null;
}

export function slotWindow(slotMs: number, { booking, lateStart, longestMinutes }: TimeRules): SlotWindow {
  const by = booking.kind === 'by_api' ? booking : null;
  return {
    slotMs,
    earliestBookingMs: by && slotMs - by.mostMinutes * MINUTE_MS,
    latestBookingMs: by && slotMs - by.leastMinutes * MINUTE_MS,
    lapseMs: lateStart.kind === 'lapses' ? slotMs + lateStart.afterMinutes * MINUTE_MS : null,
    longestEndMs: longestMinutes === null ? null : slotMs + longestMinutes * MINUTE_MS,
  };
}

export type BookingTime = 'not_bookable' | 'too_early' | 'open' | 'too_late';

/** Whether a slot can be booked at an instant. */
export function bookingTime(window: SlotWindow, nowMs: number): BookingTime {
  const { earliestBookingMs, latestBookingMs } = window;
  if (earliestBookingMs === null || latestBookingMs === null) return 'not_bookable';
  if (nowMs < earliestBookingMs) return 'too_early';
  return nowMs > latestBookingMs ? 'too_late' : 'open';
}
