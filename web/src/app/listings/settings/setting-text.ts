import { SETTING_KINDS, type SettingId, type SettingValue } from '@juncta/core/listings';

/** A setting's value as it stands in a field; lists by commas. Empty: nothing is set. */
export function writeSetting(value: SettingValue): string {
  if (value === null) return '';
  return typeof value === 'object' ? value.join(', ') : String(value);
}

/** What somebody put into the field of a setting; null: nothing is set, it is inherited. */
export function readSetting(id: SettingId, text: string): SettingValue {
  const clean = text.trim();
  if (clean === '') return null;
  switch (SETTING_KINDS[id]) {
    case 'flag':
      return clean === 'true';
    case 'list':
      return clean
        .split(',')
        .map((one) => one.trim())
        .filter(Boolean);
    default:
      return clean;
  }
}
