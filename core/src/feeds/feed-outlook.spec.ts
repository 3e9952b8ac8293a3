import { endEffect, feedDeadline, type FeedRules, type OutlookFeed } from './feed-outlook';

const MINUTE = 60_000;
const NOW = 1_000 * MINUTE;
const rules = (change: Partial<FeedRules> = {}): FeedRules => ({
  lateStart: { kind: 'lapses', afterMinutes: 13 },
  feedLoss: { patienceS: 180, then: 'gap', cleanEndEnds: 'no' },
  longestMinutes: 210,
  goingPublic: 'by_api',
  ...change,
});
const feed = (state: OutlookFeed['state'], change: Partial<OutlookFeed> = {}): OutlookFeed => ({
  state,
  sinceMs: NOW - 10_000,
  onAirMs: null,
  ...change,
});

describe('what a place does by itself with a feed', () => {
  const cases: [string, OutlookFeed | null, number | null, FeedRules, string | null][] = [
    ['nothing is booked', null, null, rules(), null],
    ['its event waits', null, NOW, rules(), 'lapse 13'],
    ['its event waits while it is dialled', feed('dialling'), NOW, rules(), 'lapse 13'],
    ['its event waits for ever', null, NOW, rules({ lateStart: { kind: 'waits' } }), null],
    ['the picture is there', feed('held'), NOW, rules(), null],
    ['the feed was lost', feed('recovering'), NOW, rules(), 'gap 2.83'],
    [
      'the feed was lost where that ends it',
      feed('recovering'),
      NOW,
      rules({ feedLoss: { patienceS: 0, then: 'event_ends', cleanEndEnds: 'yes' } }),
      'event_ends -0.17',
    ],
    [
      'the feed was lost and nobody knows',
      feed('recovering'),
      NOW,
      rules({ feedLoss: { patienceS: 0, then: 'unknown', cleanEndEnds: 'unknown' } }),
      null,
    ],
    ['it is on air', feed('on_air', { onAirMs: 60 * MINUTE }), NOW, rules(), null],
    ['it has been on air for long', feed('on_air', { onAirMs: 200 * MINUTE }), NOW, rules(), 'longest 10'],
    [
      'it may be on air for ever',
      feed('on_air', { onAirMs: 900 * MINUTE }),
      NOW,
      rules({ longestMinutes: null }),
      null,
    ],
    ['it is over', feed('ended', { onAirMs: 200 * MINUTE }), NOW, rules(), null],
  ];
  for (const [what, one, slot, ruled, wanted] of cases) {
    it(`when ${what}: ${wanted ?? 'nothing'}`, () => {
      const found = feedDeadline(one, slot, ruled, NOW);
      const told = found && `${found.kind} ${Math.round(((found.atMs - NOW) / MINUTE) * 100) / 100}`;
      expect(told).toBe(wanted);
    });
  }
});

describe('the end of a feed', () => {
  const loss = (cleanEndEnds: FeedRules['feedLoss']['cleanEndEnds']) =>
    rules({ feedLoss: { patienceS: 0, then: 'gap', cleanEndEnds } });
  for (const [clean, byApi, withFeed, wanted] of [
    ['yes', true, false, 'ends'],
    ['yes', false, false, 'ends'],
    ['option', true, true, 'ends'],
    ['option', true, false, 'told'],
    ['no', true, false, 'told'],
    ['no', false, false, 'waits'],
    ['unknown', false, false, 'unknown'],
    ['unknown', true, false, 'told'],
  ] as const) {
    it(`${clean}, ${byApi ? 'with' : 'without'} an API, ${withFeed ? '' : 'not '}set so: ${wanted}`, () =>
      expect(endEffect(loss(clean), byApi, withFeed)).toBe(wanted));
  }
});
