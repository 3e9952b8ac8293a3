import type { SettingId, SettingValue } from '@juncta/core/listings';
import { readSetting, writeSetting } from './setting-text';

describe('a setting in a field', () => {
  const cases: [SettingId, string, SettingValue][] = [
    ['rewind', 'true', true],
    ['rewind', 'false', false],
    ['topics', 'rye,  oat , ,spelt', ['rye', 'oat', 'spelt']],
    ['captions', ' automatic ', 'automatic'],
    ['onward_link', '', null],
    ['topics', '  ', null],
  ];
  for (const [id, text, value] of cases) {
    it(`${id}: “${text}” is ${JSON.stringify(value)}, and comes back the same`, () => {
      expect(readSetting(id, text)).toEqual(value);
      expect(readSetting(id, writeSetting(value))).toEqual(value);
    });
  }
});
