import type { PlaceSetting, SettingId, SettingValue } from '@juncta/core/listings';

type Rest = Partial<Omit<PlaceSetting, 'id' | 'placeDefault'>>;

/** A setting as a place has it: unless said otherwise not required, set by its API, and changed on air as well. */
export function setting(id: SettingId, placeDefault: SettingValue, rest: Rest = {}): PlaceSetting {
  return { id, placeDefault, options: [], required: false, from: 'api', onAir: true, ...rest };
}

/** A choice of the place's own options; the first is what it leaves it at, unless that is said. */
export function choice(
  id: SettingId,
  options: readonly string[],
  rest: Rest & { none?: true } = {},
): PlaceSetting {
  const { none, ...others } = rest;
  return setting(id, none ? null : options[0]!, { options: [...options], ...others });
}
