import { bookingTime, slotAt, slotWindow } from './slot';

const MINUTE = 60_000;
const rules = {
  booking: { kind: 'by_api', leastMinutes: 20, mostMinutes: 9 * 24 * 60 },
  lateStart: { kind: 'lapses', afterMinutes: 13 },
  longestMinutes: 210,
} as const;

describe('a slot', () => {
  it('goes by the show, by an offset, or by itself', () => {
    expect(slotAt({ kind: 'with_show' }, 1000)).toBe(1000);
    expect(slotAt({ kind: 'offset', minutes: -15 }, 20 * MINUTE)).toBe(5 * MINUTE);
    expect(slotAt({ kind: 'fixed', atMs: 7 }, 1000)).toBe(7);
    expect(slotAt({ kind: 'offset', minutes: 5 }, null)).toBeNull();
    expect(slotAt({ kind: 'fixed', atMs: 7 }, null)).toBe(7);
  });

  it('has the deadlines of its place', () => {
    const slotMs = 10 * 24 * 60 * MINUTE;
    expect(slotWindow(slotMs, rules)).toEqual({
      slotMs,
      earliestBookingMs: slotMs - 9 * 24 * 60 * MINUTE,
      latestBookingMs: slotMs - 20 * MINUTE,
      lapseMs: slotMs + 13 * MINUTE,
      longestEndMs: slotMs + 210 * MINUTE,
    });
  });

  it('has none where the place sets none', () => {
    const none = { booking: { kind: 'none' }, lateStart: { kind: 'waits' }, longestMinutes: null } as const;
    const window = slotWindow(5, none);
    expect(window).toEqual({
      slotMs: 5,
      earliestBookingMs: null,
      latestBookingMs: null,
      lapseMs: null,
      longestEndMs: null,
    });
    expect(bookingTime(window, 5)).toBe('not_bookable');
  });

  it('can be booked from the first to the last ms of its window', () => {
    const window = slotWindow(10 * 24 * 60 * MINUTE, rules);
    const [from, to] = [window.earliestBookingMs!, window.latestBookingMs!];
    expect([from - 1, from, to, to + 1].map((nowMs) => bookingTime(window, nowMs))).toEqual([
      'too_early',
      'open',
      'open',
      'too_late',
    ]);
  });
});
