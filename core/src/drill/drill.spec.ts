import fc from 'fast-check';
import {
  FRESH_PLACE,
  nextDrilled,
  seenAt,
  takesFeed,
  type DrillEvent,
  type DrilledPlace,
  type DrillRules,
} from './drilled-place';
import { badNight, dueBetween, faultProblem, scriptSeconds, usualSeconds, type FaultKind } from './faults';
import { secondsOf, seenInSecond, sumUp, withSecond, type Timeline } from './timeline';

const patient: DrillRules = { arrival: 'public', patienceS: 60, then: 'event_ends', cleanEndEnds: true };
const forgiving: DrillRules = { arrival: 'held', patienceS: 90, then: 'gap', cleanEndEnds: false };
const hasty: DrillRules = { arrival: 'public', patienceS: 0, then: 'event_ends', cleanEndEnds: true };

const run = (rules: DrillRules, ...events: DrillEvent[]): DrilledPlace =>
  events.reduce((place, event) => nextDrilled(place, event, rules), FRESH_PLACE);
const arrived = (atMs: number): DrillEvent => ({ type: 'arrived', atMs });
const picture = (atMs: number): DrillEvent => ({ type: 'picture', atMs });
const left = (atMs: number, clean = false): DrillEvent => ({ type: 'left', atMs, clean });
const tick = (atMs: number): DrillEvent => ({ type: 'tick', atMs });

describe('a drilled place', () => {
  const CASES: [string, DrillRules, DrillEvent[], number, string][] = [
    ['before anything arrives', patient, [], 0, 'not_yet'],
    ['public on arrival', patient, [arrived(0), picture(100)], 500, 'picture'],
    ['holding what has to be published', forgiving, [arrived(0), picture(100)], 500, 'not_yet'],
    ['once that is published', forgiving, [arrived(0), { type: 'published' }, picture(100)], 500, 'picture'],
    ['whose feed stands still', patient, [arrived(0), picture(100)], 1200, 'frozen'],
    [
      'whose feed is lost for a while',
      patient,
      [arrived(0), picture(100), left(200), tick(3000)],
      3000,
      'frozen',
    ],
    [
      'whose feed is lost too long',
      patient,
      [arrived(0), picture(100), left(200), tick(60_300)],
      60_300,
      'over',
    ],
    [
      'that forgives, after its patience',
      forgiving,
      [arrived(0), { type: 'published' }, picture(1), left(2), tick(95_000)],
      95_000,
      'nothing',
    ],
    ['that ends at once', hasty, [arrived(0), picture(100), left(200)], 300, 'over'],
    [
      'that ends at once, and gets a new feed',
      hasty,
      [arrived(0), picture(1), left(2), arrived(3), picture(4)],
      5,
      'picture',
    ],
    [
      'whose event ended, and a feed comes',
      patient,
      [arrived(0), picture(1), left(2, true), arrived(3)],
      5,
      'over',
    ],
    [
      'published before its feed was lost',
      forgiving,
      [arrived(0), { type: 'published' }, left(1), arrived(2), picture(3)],
      4,
      'picture',
    ],
    ['that threw its event away', forgiving, [{ type: 'lapsed' }], 5, 'not_yet'],
  ];
  for (const [what, rules, events, atMs, wanted] of CASES) {
    it(`${what}: ${wanted}`, () =>
      expect(seenAt(run(rules, ...events), rules, 'source', atMs)).toBe(wanted as never));
  }
  it('shows our slate while that is the programme', () => {
    const place = run(patient, arrived(0), picture(100));
    for (const shown of ['slate', 'covered'] as const)
      expect(seenAt(place, patient, shown, 200)).toBe('slate');
  });
  it('takes no feed once its event is over, unless each is a new one', () => {
    expect(takesFeed(run(patient, { type: 'lapsed' }), patient)).toBeFalse();
    expect(takesFeed(run(hasty, arrived(0), left(1)), hasty)).toBeTrue();
  });
  it('never shows a picture that did not arrive within the last second', () => {
    const event = fc.oneof(
      fc.constant(arrived(0)),
      fc.nat(5000).map(picture),
      fc.nat(5000).map((atMs) => left(atMs)),
      fc.constant<DrillEvent>({ type: 'published' }),
      fc.nat(200_000).map(tick),
    );
    let shown = 0;
    fc.assert(
      fc.property(
        fc.array(event),
        fc.nat(5000),
        fc.constantFrom(patient, forgiving, hasty),
        fc.integer({ min: -3000, max: 3000 }),
        (events, lastMs, rules, after) => {
          const place = run(rules, arrived(0), ...events, picture(lastMs));
          const at = lastMs + after;
          const sees = seenAt(place, rules, 'source', at) === 'picture';
          if (sees) shown += 1;
          expect(sees && (at - place.pictureMs! > 1000 || !place.wasPublic)).toBeFalse();
        },
      ),
    );
    expect(shown).withContext('some are shown at all').toBeGreaterThan(0);
  });
});

describe('a timeline', () => {
  it('holds every second once, in order', () =>
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('picture' as const, 'slate' as const, 'frozen' as const)),
        (seconds) => {
          const timeline = seconds.reduce<Timeline>(withSecond, []);
          expect(secondsOf(timeline)).toBe(seconds.length);
          seconds.forEach((seen, i) => expect(seenInSecond(timeline, i)).toBe(seen));
          expect(seenInSecond(timeline, seconds.length)).toBeNull();
          const sums = sumUp(timeline);
          expect(Object.values(sums).reduce((sum, n) => sum + n, 0)).toBe(seconds.length);
        },
      ),
    ));
});

describe('a fault', () => {
  const CASES: [FaultKind, string | null, number, string | null][] = [
    ['drop', 'one', 0, null],
    ['drop', null, 0, 'place'],
    ['drop', 'one', 4, 'seconds'],
    ['stall', 'one', 8, null],
    ['stall', 'one', 0, 'seconds'],
    ['stall', 'one', 1000, 'seconds'],
    ['uplink_cut', null, 8, null],
    ['uplink_cut', 'one', 8, 'place'],
    ['relay_dies', null, 0, null],
  ];
  for (const [kind, destinationId, seconds, wanted] of CASES) {
    it(`${kind} at ${destinationId} for ${seconds} s: ${wanted ?? 'good'}`, () =>
      expect(faultProblem({ kind, destinationId, seconds })).toBe(wanted as never));
  }
});

describe('a bad night', () => {
  it('has only faults that can be, each once, and time to mend the last', () => {
    const script = badNight(['one', 'two']);
    for (const fault of script) {
      expect(faultProblem(fault)).toBeNull();
      expect(fault.seconds).toBe(usualSeconds(fault.kind));
      expect(fault.kind).not.toBe('lapse');
    }
    const length = scriptSeconds(script);
    const found = Array.from({ length }, (_, s) => dueBetween(script, s - 1, s)).flat();
    expect(found).toEqual([...script]);
    expect(length).toBeGreaterThan(Math.max(...script.map(({ afterS }) => afterS)) + 10);
  });
  it('needs somewhere to go', () => expect(() => badNight([])).toThrowError(RangeError));
});
