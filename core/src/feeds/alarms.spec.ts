import { alarmsOf, type AlarmedFeed, type AlarmedShow, type AlarmKind } from './alarms';
import { FEED_STATES } from './feed-machine';

const NOW = 10_000_000;
const SECOND = 1000;
const MINUTE = 60 * SECOND;

const feed = (change: Partial<AlarmedFeed>): AlarmedFeed => ({
  destinationId: 'd',
  state: 'on_air',
  sinceMs: NOW - 10 * MINUTE,
  onAirMs: null,
  bookedSlotMs: null,
  looked: true,
  rules: {
    lateStart: { kind: 'waits' },
    feedLoss: { patienceS: 60, then: 'event_ends', cleanEndEnds: 'yes' },
    longestMinutes: null,
    goingPublic: 'on_arrival',
  },
  ...change,
});
const show = (feeds: readonly AlarmedFeed[], change: Partial<AlarmedShow> = {}): AlarmedShow => ({
  on: true,
  slateSinceMs: null,
  silentSinceMs: null,
  feeds,
  ...change,
});
const kinds = (one: AlarmedShow) => alarmsOf(one, NOW).map(({ kind }) => kind);

describe('alarms', () => {
  const { rules } = feed({});
  const lapsing = { ...rules, lateStart: { kind: 'lapses', afterMinutes: 13 } };
  const cases: readonly [string, Partial<AlarmedFeed>, AlarmKind[]][] = [
    ['a feed that is on air', {}, []],
    ['one that recovers: it mends itself', { state: 'recovering', sinceMs: NOW - 50 * SECOND }, []],
    ['one that dials', { state: 'dialling', sinceMs: NOW - MINUTE }, []],
    ['one that was never started', { state: 'off' }, []],
    ['one that was ended', { state: 'ended' }, []],
    ['one that has failed', { state: 'failed', sinceMs: NOW }, ['failed']],
    ['one that is held, at first', { state: 'held', sinceMs: NOW - 44 * SECOND }, []],
    ['one that is held and forgotten', { state: 'held', sinceMs: NOW - 45 * SECOND }, ['held']],
    ['one that is not seen yet', { state: 'sending', sinceMs: NOW - 59 * SECOND }, []],
    ['one that nobody sees', { state: 'sending', sinceMs: NOW - 60 * SECOND }, ['unseen']],
    ['one where nobody can look', { state: 'sending', looked: false }, []],
    [
      'one that waits for its slot',
      {
        state: 'sending',
        bookedSlotMs: NOW + MINUTE,
        rules: { ...rules, goingPublic: 'from_slot' },
      },
      [],
    ],
    [
      'one whose slot has just come',
      {
        state: 'sending',
        bookedSlotMs: NOW - 30 * SECOND,
        rules: { ...rules, goingPublic: 'from_slot' },
      },
      [],
    ],
    [
      'one whose slot came and nobody sees it',
      {
        state: 'sending',
        bookedSlotMs: NOW - 61 * SECOND,
        rules: { ...rules, goingPublic: 'from_slot' },
      },
      ['unseen'],
    ],
    [
      'one that lapses in half an hour',
      { state: 'off', bookedSlotMs: NOW + 17 * MINUTE, rules: lapsing },
      [],
    ],
    ['one that lapses soon', { state: 'off', bookedSlotMs: NOW - 4 * MINUTE, rules: lapsing }, ['lapses']],
    [
      'one that has lapsed: nothing helps',
      { state: 'off', bookedSlotMs: NOW - 14 * MINUTE, rules: lapsing },
      [],
    ],
    [
      'one whose longest show is nearly over',
      { onAirMs: 291 * MINUTE, rules: { ...rules, longestMinutes: 300 } },
      ['runs_out'],
    ],
    ['one with time left', { onAirMs: 289 * MINUTE, rules: { ...rules, longestMinutes: 300 } }, []],
  ];
  for (const [what, change, wanted] of cases) {
    it(`${wanted.length > 0 ? `say ${wanted.join()} of` : 'say nothing of'} ${what}`, () => {
      expect(kinds(show([feed(change)]))).toEqual(wanted);
    });
  }

  it('tell the time that is left', () => {
    const [alarm] = alarmsOf(
      show([feed({ state: 'off', bookedSlotMs: NOW - 4 * MINUTE, rules: lapsing })]),
      NOW,
    );
    expect(alarm!.dueMs).toBe(NOW + 9 * MINUTE);
  });

  it('say that nobody composes a show that is on, after a while', () => {
    expect(kinds(show([], { slateSinceMs: NOW - 19 * SECOND }))).toEqual([]);
    expect(kinds(show([], { slateSinceMs: NOW - 20 * SECOND }))).toEqual(['slate']);
    expect(kinds(show([], { slateSinceMs: NOW - 20 * SECOND, on: false }))).toEqual([]);
  });

  it('say that nothing is heard of a show that is on, after a while, and not when there is no picture either', () => {
    expect(kinds(show([], { silentSinceMs: NOW - 14 * SECOND }))).toEqual([]);
    expect(kinds(show([], { silentSinceMs: NOW - 15 * SECOND }))).toEqual(['silent']);
    expect(kinds(show([], { silentSinceMs: NOW - 15 * SECOND, on: false }))).toEqual([]);
    expect(kinds(show([], { silentSinceMs: 0, slateSinceMs: 0 }))).toEqual(['slate']);
  });

  it('come with the most pressing first, whatever the order of the feeds', () => {
    const feeds = [
      feed({ state: 'held' }),
      feed({ state: 'sending' }),
      feed({ state: 'failed' }),
      feed({ state: 'off', bookedSlotMs: NOW - 4 * MINUTE, rules: lapsing, destinationId: 'later' }),
      feed({ state: 'off', bookedSlotMs: NOW - 9 * MINUTE, rules: lapsing, destinationId: 'sooner' }),
    ];
    for (const order of [feeds, [...feeds].reverse()]) {
      const alarms = alarmsOf(show(order, { slateSinceMs: 0 }), NOW);
      expect(alarms.map(({ kind }) => kind)).toEqual([
        'failed',
        'slate',
        'lapses',
        'lapses',
        'held',
        'unseen',
      ]);
      expect(alarms[2]!.destinationId).toBe('sooner');
    }
  });

  it('are at most one for each feed, in every state', () => {
    for (const state of FEED_STATES) {
      for (const bookedSlotMs of [null, NOW - 4 * MINUTE, NOW + MINUTE])
        expect(alarmsOf(show([feed({ state, bookedSlotMs, rules: lapsing })]), NOW).length).toBeLessThan(2);
    }
  });
});
