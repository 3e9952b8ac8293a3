import fc from 'fast-check';
import {
  FEED_OFF,
  FEED_STATES,
  isUnderWay,
  nextFeed,
  type Feed,
  type FeedEvent,
  type FeedState,
} from './feed-machine';
import { backoff } from '../retry';

const policy = backoff({ firstMs: 500, longestMs: 8000, attempts: 5, random: () => 0.5 });

function run(...events: FeedEvent[]): Feed {
  return events.reduce((feed, event) => nextFeed(feed, event, policy).feed, FEED_OFF);
}
const start: FeedEvent = { type: 'start' };
const arrives = (arrival: 'public' | 'held'): FeedEvent => ({ type: 'accepted', arrival });
const lost: FeedEvent = { type: 'lost', reason: 'lost_connection' };
const retry: FeedEvent = { type: 'retry_due' };
const seen = (isPublic: boolean): FeedEvent => ({ type: 'seen', public: isPublic });

describe('feed machine', () => {
  const stories: [string, FeedEvent[], FeedState][] = [
    ['dials when started', [start], 'dialling'],
    ['is only sending until somebody has looked', [start, arrives('public')], 'sending'],
    ['is on air once seen', [start, arrives('public'), seen(true)], 'on_air'],
    ['is held where the place waits to be told', [start, arrives('held')], 'held'],
    ['stays held while it is not seen', [start, arrives('held'), seen(false)], 'held'],
    ['leaves held when it is published', [start, arrives('held'), { type: 'published' }], 'sending'],
    ['is on air when published by hand over there', [start, arrives('held'), seen(true)], 'on_air'],
    [
      'is no longer called on air when it vanished',
      [start, arrives('public'), seen(true), seen(false)],
      'sending',
    ],
    ['recovers after a break', [start, arrives('public'), lost], 'recovering'],
    [
      'comes back public',
      [start, arrives('held'), { type: 'published' }, lost, retry, arrives('held')],
      'sending',
    ],
    ['comes back held if it was held', [start, arrives('held'), lost, retry, arrives('held')], 'held'],
    ['fails at once on a wrong key', [start, { type: 'refused', reason: 'refused_key' }], 'failed'],
    ['tries again when the key is busy', [start, { type: 'refused', reason: 'refused_busy' }], 'dialling'],
    ['ends when told to', [start, arrives('public'), { type: 'stop' }], 'ended'],
    ['ends when the place ends it', [start, arrives('public'), { type: 'ended_there' }], 'ended'],
    ['starts again after its end', [start, { type: 'stop' }, start], 'dialling'],
    ['starts again after failing', [start, { type: 'refused', reason: 'refused_key' }, start], 'dialling'],
    ['ignores a retry that comes due after its end', [start, lost, { type: 'stop' }, retry], 'ended'],
  ];
  for (const [name, events, state] of stories) {
    it(name, () => expect(run(...events).state).toBe(state));
  }

  it('gives up after its last try, and says so', () => {
    let feed = run(start, arrives('public'));
    let dials = 0;
    for (let i = 0; i < 20 && feed.state !== 'failed'; i++) {
      const broke = nextFeed(feed, lost, policy);
      const retried = nextFeed(broke.feed, retry, policy);
      dials += retried.effects.filter((effect) => effect.type === 'dial').length;
      feed = retried.feed;
    }
    expect(feed).toEqual(jasmine.objectContaining({ state: 'failed', reason: 'gave_up' }));
    expect(dials).toBe(5);
  });

  it('counts a break once, though socket and watchdog both report it', () => {
    const once = run(start, arrives('public'), lost);
    const twice = nextFeed(once, { type: 'lost', reason: 'no_answer' }, policy);
    expect(twice.feed).toEqual(once);
    expect(twice.effects).toEqual([]);
  });

  it('hangs up cleanly only when a person ends it, since a clean end closes shows at some places', () => {
    const live = run(start, arrives('public'));
    expect(nextFeed(live, { type: 'stop' }, policy).effects).toEqual([{ type: 'hang_up', clean: true }]);
    expect(nextFeed(live, { type: 'ended_there' }, policy).effects).toEqual([
      { type: 'hang_up', clean: false },
    ]);
  });

  const anyEvent: fc.Arbitrary<FeedEvent> = fc.constantFrom(
    start,
    arrives('public'),
    arrives('held'),
    { type: 'published' },
    seen(true),
    seen(false),
    lost,
    { type: 'refused', reason: 'refused_key' },
    { type: 'refused', reason: 'refused_busy' },
    retry,
    { type: 'ended_there' },
    { type: 'stop' },
  );

  it('is never on air without having been accepted and seen, whatever happens in whatever order', () => {
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 40 }), (events) => {
        let feed = FEED_OFF;
        let accepted = false;
        for (const event of events) {
          const step = nextFeed(feed, event, policy);
          if (event.type === 'accepted' && isUnderWay(feed.state)) accepted = true;
          if (step.feed.state === 'recovering' || !isUnderWay(step.feed.state)) accepted = false;
          if (feed.state !== 'on_air' && step.feed.state === 'on_air') {
            expect(event).toEqual(seen(true));
            expect(accepted).toBeTrue();
          }
          feed = step.feed;
          expect(FEED_STATES).toContain(feed.state);
        }
      }),
    );
  });

  it('has a way on from everywhere: a stop and a start lead to dialling', () => {
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 40 }), (events) => {
        expect(run(...events, { type: 'stop' }, start).state).toBe('dialling');
      }),
    );
  });
});
