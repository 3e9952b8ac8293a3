import type { InheritedSettings, PlaceSetting, SettingValues } from '../listings';
import { launchSheet } from './launch-sheet';
import type { PlannedBroadcast, PlannedListing, PlaceRules } from './place';
import { readiness } from './readiness';
import { SLOW_MACHINE } from '../renditions';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
const START = Date.UTC(2027, 4, 20, 19);

const house = (sets: readonly SettingValues[]): InheritedSettings =>
  sets.map((values) => ({ origin: 'house', values }));

const audience: PlaceSetting = {
  id: 'audience',
  options: ['general', 'children'],
  placeDefault: null,
  required: true,
  from: 'api',
  onAir: true,
};
const flag = (id: PlaceSetting['id'], rest: Partial<PlaceSetting> = {}): PlaceSetting => ({
  id,
  options: [],
  placeDefault: false,
  required: false,
  from: 'api',
  onAir: true,
  ...rest,
});

const MACHINE = { cores: 4, cost: SLOW_MACHINE, isMeasured: true };

const rules: PlaceRules = {
  title: { max: 20, unit: 'grapheme' },
  description: { max: 100, unit: 'grapheme' },
  hashtags: 2,
  picture: null,
  settings: [],
  goingPublic: 'by_api',
  encoder: { shape: 'landscape', maxHeight: 1080, maxFramesPerS: 30, maxKbps: 8000, keyframeS: 2 },
  ingest: { key: 'per_event' },
  exclusive: false,
  booking: { kind: 'by_api', leastMinutes: 20, mostMinutes: 9 * 24 * 60 },
  lateStart: { kind: 'lapses', afterMinutes: 13 },
  longestMinutes: 210,
};
const poster = { needed: true, aspect: '5:2', minWidth: 1500, minHeight: 600, maxBytes: null };
const listing = (change: Partial<PlannedListing> = {}, ruled: Partial<PlaceRules> = {}): PlannedListing => ({
  destinationId: 'gu',
  rules: { ...rules, ...ruled },
  title: 'Rye and patience',
  description: '',
  unknownPlaceholders: [],
  emptyPlaceholders: [],
  slot: { kind: 'with_show' },
  picture: null,
  settings: {},
  state: 'booked',
  bookedSlotMs: START,
  bookingDueMs: null,
  differs: [],
  account: 'good',
  keyUsedBy: [],
  ...change,
});
const show = (
  listings: readonly PlannedListing[],
  change: Partial<PlannedBroadcast> = {},
): PlannedBroadcast => ({
  startsAtMs: START,
  plannedMinutes: 60,
  pictureFormat: '720p30',
  machine: null,
  usualStartMinute: null,
  startMinute: 19 * 60,
  startedAtMs: null,
  endedAtMs: null,
  archivedAtMs: null,
  listings,
  inherited: house([{}]),
  atDeskMinutes: 40,
  ...change,
});
/** At a place that has no rules about time. */
const quiet = listing({ state: 'draft' }, { booking: { kind: 'none' }, lateStart: { kind: 'waits' } });
const codes = (broadcast: PlannedBroadcast, nowMs = START - 2 * DAY) =>
  readiness(broadcast, nowMs).map(({ level, code }) => `${level} ${code}`);

describe('readiness', () => {
  const cases: [string, PlannedBroadcast, string[]][] = [
    ['nothing but what time brings, when every rule is met', show([listing()]), ['advice will_lapse']],
    ['a title that just fits', show([listing({ title: 'x'.repeat(20) })]), ['advice will_lapse']],
    [
      'a title that is one too long',
      show([listing({ title: 'x'.repeat(21) })]),
      ['block text_too_long', 'advice will_lapse'],
    ],
    ['no title', show([listing({ title: ' ' })]), ['block text_missing', 'advice will_lapse']],
    [
      'one hashtag too many',
      show([listing({ description: '#rye #oat #spelt' })]),
      ['block too_many_hashtags', 'advice will_lapse'],
    ],
    [
      'a name in braces that nothing is filled in for',
      show([listing({ unknownPlaceholders: ['gests'] })]),
      ['warning unknown_placeholder', 'advice will_lapse'],
    ],
    [
      'a name in braces that there is nothing for yet',
      show([listing({ emptyPlaceholders: ['date'] })]),
      ['warning empty_placeholder', 'advice will_lapse'],
    ],
    [
      'a picture that is needed',
      show([listing({}, { picture: poster })]),
      ['warning picture_missing', 'advice will_lapse'],
    ],
    [
      'a picture that has to be enlarged',
      show([listing({ picture: { width: 2000, height: 500, crop: null } }, { picture: poster })]),
      ['advice will_lapse', 'advice picture_small'],
    ],
    [
      'a picture that is small only where it is enlarged by hand',
      show([
        listing(
          { picture: { width: 2000, height: 800, crop: { x: 0.5, y: 0.5, zoom: 2 } } },
          { picture: poster },
        ),
      ]),
      ['advice will_lapse', 'advice picture_small'],
    ],
    [
      'a picture that is good, and one that nobody needs',
      show([
        listing({ picture: { width: 2000, height: 800, crop: null } }, { picture: poster }),
        listing({}, { picture: { ...poster, needed: false } }),
      ]),
      ['advice will_lapse', 'advice will_lapse'],
    ],
    [
      'a setting that is needed',
      show([listing({}, { settings: [audience] })]),
      ['block setting_missing', 'advice will_lapse'],
    ],
    [
      'a setting that is needed, and the house has a default for',
      show([listing({}, { settings: [audience] })], { inherited: house([{}, { audience: 'general' }]) }),
      ['advice will_lapse'],
    ],
    [
      'a default that this place cannot have',
      show([listing({}, { settings: [audience] })], { inherited: house([{ audience: 'robots' }]) }),
      ['block setting_missing', 'advice will_lapse'],
    ],
    [
      'sponsored without a disclosure',
      show([
        listing(
          { settings: { sponsored: true } },
          { settings: [flag('sponsored'), flag('disclosure', { placeDefault: null })] },
        ),
      ]),
      ['block disclosure_missing', 'advice will_lapse'],
    ],
    [
      'sponsored where the place asks for nothing, and no word of it in the text',
      show([listing({ settings: { sponsored: true } }, { settings: [flag('sponsored')] })]),
      ['warning disclosure_unsaid', 'advice will_lapse'],
    ],
    [
      'sponsored, and the text says so',
      show([
        listing(
          { settings: { sponsored: true }, description: 'Werbung: paid for by the oat board.' },
          { settings: [flag('sponsored')] },
        ),
      ]),
      ['advice will_lapse'],
    ],
    [
      'what the house wants and nobody can set from outside',
      show([listing({}, { settings: [flag('rewind', { from: 'by_hand' })] })], {
        inherited: house([{ rewind: true }]),
      }),
      ['advice will_lapse', 'advice by_hand'],
    ],
    [
      'otherwise than the house wants it',
      show([listing({ settings: { chat_replay: false } }, { settings: [flag('chat_replay')] })], {
        inherited: house([{ chat_replay: true }]),
      }),
      ['advice will_lapse', 'advice left_wrong'],
    ],
    [
      'an account that is lost',
      show([listing({ account: 'lost' })]),
      ['block account_lost', 'advice will_lapse'],
    ],
    [
      'one persistent key for two shows',
      show([listing({ keyUsedBy: ['Rye'] }, { ingest: { key: 'persistent' } })]),
      ['block key_used_twice', 'advice will_lapse'],
    ],
    ['another show, with keys of their own', show([listing({ keyUsedBy: ['Rye'] })]), ['advice will_lapse']],
    [
      'values that the place changed',
      show([listing({ differs: ['captions'] })]),
      ['warning differs', 'advice will_lapse'],
    ],
    [
      'a slot that was moved after it was booked',
      show([listing({ bookedSlotMs: START - HOUR })]),
      ['block slot_moved'],
    ],
    [
      'more frames a second than the place takes',
      show([listing()], { pictureFormat: '1080p60' }),
      ['block frames_too_many', 'advice will_lapse'],
    ],
    [
      'a larger picture than the place takes',
      show([listing({}, { encoder: { ...rules.encoder, maxHeight: 720 } })], { pictureFormat: '1080p60' }),
      ['block frame_too_large', 'advice will_lapse'],
    ],
    [
      'more than the place takes, where the relay may encode for it',
      show([listing()], { pictureFormat: '1080p60', machine: MACHINE }),
      ['advice will_lapse', 'advice encoded_apart'],
    ],
    [
      'keyframes further apart than the place takes, and nobody to encode',
      show([listing({}, { encoder: { ...rules.encoder, keyframeS: 1 } })]),
      ['block no_room_to_encode', 'advice will_lapse'],
    ],
    ['as much as the place takes', show([listing()], { pictureFormat: '1080p30' }), ['advice will_lapse']],
    [
      'a show longer than the place lets it be',
      show([listing()], { plannedMinutes: 211 }),
      ['warning too_long', 'advice will_lapse'],
    ],
    ['a show exactly as long', show([listing()], { plannedMinutes: 210 }), ['advice will_lapse']],
    ['an event that was thrown away', show([listing({ state: 'lapsed' })]), ['block lapsed']],
    [
      'a place that forbids others',
      show([listing({}, { exclusive: true }), listing({ destinationId: 'ki' })]),
      ['warning exclusive', 'advice will_lapse', 'advice will_lapse'],
    ],
    [
      'a place that forbids others, by key',
      show([listing({ account: 'none' }, { exclusive: true }), listing({ destinationId: 'ki' })]),
      ['advice will_lapse', 'advice will_lapse'],
    ],
    [
      'twelve hours from the usual time',
      show([quiet], { startMinute: 7 * 60, usualStartMinute: 19 * 60 }),
      ['warning twelve_hours'],
    ],
    ['the small hours', show([quiet], { startMinute: 5 * 60 + 59 }), ['warning at_night']],
    ['early, as usual', show([quiet], { startMinute: 300, usualStartMinute: 300 }), []],
    ['six in the morning', show([quiet], { startMinute: 6 * 60 }), []],
    ['a show that goes nowhere', show([]), ['block no_destination']],
    ['one that went nowhere and is over', show([], { endedAtMs: START }), []],
    ['a show that is over', show([listing({ title: '' })], { endedAtMs: START }), []],
  ];
  for (const [what, broadcast, wanted] of cases) {
    it(`finds ${what}`, () => expect(codes(broadcast)).toEqual(wanted));
  }

  describe('of a slot that is not booked', () => {
    const draft = listing({ state: 'draft', bookedSlotMs: null });
    const times: [string, number, string][] = [
      ['before its window', START - 9 * DAY - 1, 'warning window_not_open'],
      ['as its window opens', START - 9 * DAY, 'warning not_booked'],
      ['at its deadline', START - 20 * MINUTE, 'warning not_booked'],
      ['one ms too late', START - 20 * MINUTE + 1, 'warning window_missed'],
      ['once it has gone by', START + 1, 'warning slot_past'],
    ];
    for (const [what, nowMs, wanted] of times) {
      it(`${what}: ${wanted}`, () => expect(codes(show([draft]), nowMs)).toEqual([wanted]));
    }
    it('says that it will be booked by itself, where somebody asked for that', () => {
      const asked = { ...draft, bookingDueMs: START - 9 * DAY };
      expect(codes(show([asked]), START - 10 * DAY)).toEqual(['advice booking_waits']);
    });
    it('says nothing where nothing can be booked', () => {
      expect(codes(show([quiet]))).toEqual([]);
    });
  });

  it('warns of a lapse from when somebody has to be at the desk until it has come', () => {
    const at = (nowMs: number) => codes(show([listing()]), nowMs);
    expect(at(START - 40 * MINUTE - 1)).toEqual(['advice will_lapse']);
    expect(at(START - 40 * MINUTE)).toEqual(['warning will_lapse']);
    expect(at(START + 13 * MINUTE)).toEqual(['warning will_lapse']);
    expect(at(START + 13 * MINUTE + 1)).toEqual([]);
  });

  it('puts the gravest first, then the soonest', () => {
    const all = readiness(
      show([
        listing(
          { state: 'draft', destinationId: 'late' },
          { booking: { kind: 'by_api', leastMinutes: 0, mostMinutes: 99_999 } },
        ),
        listing({ state: 'draft', destinationId: 'soon', title: '' }),
      ]),
      START - DAY,
    );
    expect(all.map(({ level, destinationId }) => `${level} ${destinationId}`)).toEqual([
      'block soon',
      'warning soon',
      'warning late',
    ]);
  });
});

describe('the launch sheet', () => {
  it('has everything that has to happen, in order of time', () => {
    const broadcast = show(
      [
        listing({ state: 'draft' }, { settings: [flag('rewind', { from: 'by_hand' })] }),
        listing(
          { destinationId: 'po', bookingDueMs: START - 9 * DAY, state: 'draft' },
          { lateStart: { kind: 'waits' } },
        ),
      ],
      { inherited: house([{ rewind: true }]) },
    );
    const sheet = launchSheet(broadcast, START - 2 * DAY);
    expect(sheet.map(({ id, by, dueMs }) => [id, by, (dueMs - START) / MINUTE])).toEqual([
      ['check_gear', 'hand', -40],
      ['at_desk', 'hand', -40],
      ['book gu', 'hand', -20],
      ['book po', 'machine', -20],
      ['set_by_hand gu rewind', 'hand', 0],
      ['start', 'hand', 0],
      ['publish gu', 'hand', 0],
      ['publish po', 'hand', 0],
      ['lapse gu', 'machine', 13],
    ]);
  });

  it('knows what is done without anybody’s tick, and asks for no booking that is too late', () => {
    const booked = launchSheet(show([listing()]), START - DAY).find(({ step }) => step === 'book');
    expect(booked?.done).toBeTrue();
    const late = launchSheet(show([listing({ state: 'draft' })]), START - MINUTE);
    expect(late.some(({ step }) => step === 'book')).toBeFalse();
  });

  it('is empty without a start', () => {
    expect(launchSheet(show([listing()], { startsAtMs: null }), START)).toEqual([]);
  });
});
