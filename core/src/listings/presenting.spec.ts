import { countText } from './count-text';
import { listingText } from './inherit';
import { countHashtags, fillIn, shorten, type PlaceholderValues } from './placeholders';
import { differences, placeholderValues, present, settingsToSend } from './presented';
import {
  fitsSetting,
  inheritedSettings,
  sameValue,
  lostSettings,
  settingOf,
  type PlaceSetting,
  type SettingId,
  type SettingValues,
} from './settings';

const values: PlaceholderValues = {
  guests: 'Mei-Lin Okafor and Wanjiru Halloran',
  date: 'Thursday 20 May',
  time: '19:00',
  zone: 'Lisbon',
  series: 'The Proving Hour',
  link: 'https://house.example/next/the-proving-hour',
  disclosure: '',
};

describe('a listing’s text', () => {
  it('is inherited field by field, and an empty text is a text', () => {
    const shared = { title: 'Rye', description: 'Long' };
    expect(listingText(shared, { title: null, description: null })).toEqual(shared);
    expect(listingText(shared, { title: 'Rye, live', description: null })).toEqual({
      title: 'Rye, live',
      description: 'Long',
    });
    expect(listingText(shared, { title: null, description: '' }).description).toBe('');
  });

  const cases: [string, string, string[], string[]][] = [
    ['With {guests}', 'With Mei-Lin Okafor and Wanjiru Halloran', [], []],
    ['{date}, {time} ({zone})', 'Thursday 20 May, 19:00 (Lisbon)', [], []],
    ['{gests} {Date} {}', '{gests} {Date} {}', ['gests'], []],
    ['More at {link}', 'More at https://house.example/next/the-proving-hour', [], []],
    ['{disclosure}', '', [], ['disclosure']],
  ];
  for (const [text, filled, unknown, missing] of cases) {
    it(`“${text}” is filled in`, () => {
      expect(fillIn(text, values)).toEqual({ text: filled, unknown, missing: missing as never });
    });
  }

  it('is filled in with the day and time of the show’s own zone', () => {
    const facts = {
      startsAtMs: Date.UTC(2027, 4, 20, 23, 30),
      zone: 'America/St_Johns',
      people: [
        { name: 'Odalys', part: 'host' },
        { name: 'Pascoe', part: 'guest' },
      ],
      series: null,
    };
    expect(placeholderValues(facts, null)).toEqual({
      guests: 'Pascoe',
      date: 'Thursday 20 May',
      time: '21:00',
      zone: 'St Johns',
      series: null,
      link: null,
      disclosure: null,
    });
    const own = { title: '{guests} at {time}', description: null, settings: {} };
    expect(present(facts, { title: 'x', description: 'y' }, own).title).toBe('Pascoe at 21:00');
  });
});

describe('a shortened text', () => {
  const cases: [string, number, string | null][] = [
    ['Rye and patience', 16, 'Rye and patience'],
    ['Rye and patience', 15, 'Rye and…'],
    ['Rye, and patience', 5, 'Rye…'],
    ['Rye and patience', 4, 'Rye…'],
    ['Rye and patience', 3, null],
    ['Patience', 4, null],
    ['Rye with {guests} tonight', 45, 'Rye with {guests}…'],
    ['Rye with {guests} tonight', 20, 'Rye with…'],
  ];
  for (const [text, max, wanted] of cases) {
    it(`“${text}” in ${max}: ${wanted}`, () => {
      expect(shorten(text, { max, unit: 'grapheme' }, values)).toBe(wanted);
    });
  }

  it('always fits, in every unit and script, and never cuts a letter', () => {
    const scripts = [
      'Brötchen, Größe und Süße des Teigs am Morgen',
      'خبز الجاودار والصبر في المخبز',
      'לחם שיפון וסבלנות במאפייה',
      'ライ麦 と 忍耐 の パン',
      '호밀 빵과 인내의 시간',
      'Ржаной хлеб и терпение пекаря',
      'Ψωμί σίκαλης και υπομονή',
      'राई की रोटी और धैर्य',
      'ขนมปัง ไรย์ และ ความอดทน',
      '👩‍👩‍👧‍👦 bakes 🥖 with 👨🏽‍🍳 tonight',
      'Հացահատիկ և համբերություն',
    ];
    for (const text of scripts) {
      for (const unit of ['utf16', 'grapheme', 'utf8_byte', 'code_point'] as const) {
        for (let max = 1; max <= countText(text, unit); max += 3) {
          const short = shorten(text, { max, unit }, values);
          if (short === null) continue;
          expect(countText(short, unit)).withContext(`${text} ${unit} ${max}`).toBeLessThanOrEqual(max);
          const kept = short.replace(/…$/, '');
          expect(text.startsWith(kept)).toBeTrue();
          if (kept !== text) expect(text.slice(kept.length)).toMatch(/^[\s.,;:–—-]/u);
        }
      }
    }
  });
});

it('hashtags are counted where places see them', () => {
  expect(countHashtags('#rye and #oat, not a#b nor # alone, but #Größe_2')).toBe(3);
});

const house = (values: SettingValues) => ({ origin: 'house' as const, values });

describe('a setting', () => {
  const choice: PlaceSetting = {
    id: 'captions',
    options: ['off', 'automatic'],
    placeDefault: 'off',
    required: false,
    from: 'api',
    onAir: true,
  };
  const flag: PlaceSetting = { ...choice, id: 'rewind', options: [], placeDefault: false };

  it('is its own, else the nearest default that fits, else the place’s', () => {
    expect(settingOf(choice, { captions: 'off' }, [house({ captions: 'automatic' })])).toEqual({
      value: 'off',
      origin: 'own',
    });
    expect(settingOf(choice, {}, [house({ captions: 'sung' }), house({ captions: 'automatic' })])).toEqual({
      value: 'automatic',
      origin: 'house',
    });
    const inherited = inheritedSettings({ captions: 'automatic' }, [{ captions: 'off' }]);
    expect(settingOf(choice, {}, inherited)).toEqual({ value: 'automatic', origin: 'show' });
    expect(settingOf(choice, { captions: null }, [house({})])).toEqual({ value: 'off', origin: 'place' });
  });

  const LOST: readonly (readonly [string, Parameters<typeof lostSettings>, readonly SettingId[]])[] = [
    ['nothing is laid down', [[choice], []], []],
    ['the place has it', [[choice], [house({ captions: 'automatic' })]], []],
    ['the place has no such setting', [[choice], [house({ captions: 'off', age: '12' })]], ['age']],
    ['the place has it and not this value', [[choice], [house({ captions: 'sung' })]], ['captions']],
    ['a farther value fits', [[choice], [house({ captions: 'sung' }), house({ captions: 'off' })]], []],
    ['it is laid down as nothing', [[], [house({ captions: null })]], []],
  ];
  for (const [when, args, lost] of LOST) {
    it(`is lost, or not, when ${when}`, () => expect(lostSettings(...args)).toEqual([...lost]));
  }

  it('fits by its kind', () => {
    expect(fitsSetting(choice, 'sung')).toBeFalse();
    expect(fitsSetting(flag, 'true')).toBeFalse();
    expect(fitsSetting(flag, true)).toBeTrue();
    expect(fitsSetting({ ...flag, id: 'topics' }, ['a', 'b'])).toBeTrue();
    expect(fitsSetting({ ...flag, id: 'topics' }, 'a')).toBeFalse();
  });

  it('is the same in another order, and nothing is nothing', () => {
    expect(sameValue(['a', 'b'], ['b', 'a'])).toBeTrue();
    expect(sameValue([], null)).toBeTrue();
    expect(sameValue(false, null)).toBeTrue();
    expect(sameValue('a', 'b')).toBeFalse();
  });

  it('is sent where it is wanted otherwise, and once more when it goes back', () => {
    expect(settingsToSend([choice, flag], {}, [house({})], {})).toEqual({});
    expect(settingsToSend([choice, flag], { rewind: true }, [house({ captions: 'automatic' })], {})).toEqual({
      captions: 'automatic',
      rewind: true,
    });
    expect(settingsToSend([choice, flag], {}, [house({})], { rewind: true })).toEqual({ rewind: false });
    expect(settingsToSend([{ ...choice, from: 'by_hand' }], { captions: 'automatic' }, [], {})).toEqual({});
  });

  it('that a place changed or ignored is found', () => {
    const told = {
      title: 'Rye',
      description: '',
      startsAtMs: 5,
      settings: { captions: 'automatic', topics: [] },
    };
    expect(differences(told, { ...told, settings: { captions: 'automatic', rewind: true } })).toEqual([]);
    expect(differences(told, { ...told, title: 'Ry', startsAtMs: 6, settings: {} })).toEqual([
      'title',
      'slot',
      'captions',
    ]);
    expect(differences({ ...told, startsAtMs: null }, told)).toEqual([]);
  });
});
