import { lineTestAt, lineTestFormat } from './line-test';

describe('a line test', () => {
  const event = (placements: string[] | null) =>
    ({ kind: 'hidden_event', placements, slotInMinutes: null }) as const;
  for (const [way, placement, wanted] of [
    [{ kind: 'unsafe' }, 'channel', 'no'],
    [{ kind: 'unknown' }, null, 'ask'],
    [event(null), 'channel', 'hidden'],
    [event(null), null, 'hidden'],
    [event(['profile']), 'profile', 'hidden'],
    [event(['profile']), 'page', 'no'],
    [event(['profile']), null, 'no'],
  ] as const) {
    it(`by ${way.kind} at ${placement ?? 'no placement'}: ${wanted}`, () =>
      expect(lineTestAt(way, placement)).toBe(wanted));
  }

  it('sends what a show sends, and no more than the place takes', () => {
    expect(lineTestFormat({ maxKbps: 8000, maxHeight: 1080 })).toEqual({ kbps: 4500, height: 720 });
    expect(lineTestFormat({ maxKbps: 2800, maxHeight: 480 })).toEqual({ kbps: 2800, height: 480 });
  });
});
