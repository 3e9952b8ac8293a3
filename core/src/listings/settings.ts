/**
 * Everything that can be set for a listing besides its texts, its picture and its slot. Which of them a place has, with
 * which choices and what it leaves them at, its house rules say: there is no form written by hand for any place.
 */

/** `flag`: on or off; `choice`: one of the place's own options; `text`: a line; `list`: several lines. */
export type SettingKind = 'flag' | 'choice' | 'text' | 'list';
export type SettingValue = boolean | string | readonly string[] | null;

export const SETTING_KINDS = {
  visibility: 'choice',
  audience: 'choice',
  age: 'choice',
  category: 'choice',
  language: 'text',
  topics: 'list',
  latency: 'choice',
  rewind: 'flag',
  starts_on_arrival: 'flag',
  ends_with_feed: 'flag',
  spherical: 'flag',
  captions: 'choice',
  chat: 'flag',
  chat_replay: 'flag',
  comment_rules: 'choice',
  comment_order: 'choice',
  archive_visibility: 'choice',
  licence: 'choice',
  embedding: 'flag',
  syndication: 'flag',
  collection: 'text',
  onward_link: 'text',
  earning: 'flag',
  products: 'list',
  fundraising_link: 'text',
  sponsored: 'flag',
  disclosure: 'text',
  public_figures: 'list',
  location: 'text',
  geo_allow: 'list',
  geo_deny: 'list',
  targeting: 'text',
  cross_posting: 'list',
  community: 'text',
  speakers: 'list',
  organiser: 'text',
  co_hosts: 'list',
} as const satisfies Record<string, SettingKind>;
export type SettingId = keyof typeof SETTING_KINDS;
/** In the order in which they are shown. */
export const SETTING_IDS = Object.keys(SETTING_KINDS) as [SettingId, ...SettingId[]];

/** A setting as one place has it. */
export interface PlaceSetting {
  readonly id: SettingId;
  /** Only of a choice. */
  readonly options: readonly string[];
  /** What the place leaves it at when nobody says anything. */
  readonly placeDefault: SettingValue;
  /** Nothing can be sent or booked there without a value. */
  readonly required: boolean;
  /** Whether we can set it, or somebody has to, on the place's own pages. */
  readonly from: 'api' | 'by_hand';
  /** Whether the place takes a change while it is on air. */
  readonly onAir: boolean;
}

export type SettingValues = Readonly<Partial<Record<SettingId, SettingValue>>>;

/** Whether a value can be one of this setting at this place; null always can: it goes back to the default. */
export function fitsSetting(setting: PlaceSetting, value: SettingValue): boolean {
  if (value === null) return true;
  switch (SETTING_KINDS[setting.id]) {
    case 'flag':
      return typeof value === 'boolean';
    case 'choice':
      return typeof value === 'string' && setting.options.includes(value);
    case 'text':
      return typeof value === 'string';
    case 'list':
      return Array.isArray(value) && value.every((one) => typeof one === 'string');
  }
}

/** Where the value of a setting comes from. */
export type SettingOrigin = 'own' | 'show' | 'house' | 'place';

/** What a listing inherits, the nearest first: what its show shares, the defaults of the series, the team's. */
export type InheritedSettings = readonly {
  readonly origin: 'show' | 'house';
  readonly values: SettingValues;
}[];

/** @param house the house's defaults, the nearest first */
export const inheritedSettings = (
  shared: SettingValues,
  house: readonly SettingValues[],
): InheritedSettings => [
  { origin: 'show', values: shared },
  ...house.map((values) => ({ origin: 'house' as const, values })),
];

/** Settings of which every listing of a show usually has the same: they are laid down once for all. */
export const SHARED_SETTING_IDS = ['topics', 'language', 'audience', 'age'] as const satisfies SettingId[];

/**
 * The value that a listing has: its own, else the first of what it inherits that the place can have, else what the place
 * leaves it at.
 */
export function settingOf(
  setting: PlaceSetting,
  own: SettingValues,
  inherited: InheritedSettings,
): { readonly value: SettingValue; readonly origin: SettingOrigin } {
  const ownValue = own[setting.id];
  if (ownValue !== undefined && ownValue !== null && fitsSetting(setting, ownValue))
    return { value: ownValue, origin: 'own' };
  for (const { origin, values } of inherited) {
    const value = values[setting.id];
    if (value !== undefined && value !== null && fitsSetting(setting, value)) return { value, origin };
  }
  return { value: setting.placeDefault, origin: 'place' };
}

/**
 * What is laid down for all listings and does nothing at a place: it has no such setting, or cannot have any of the
 * values. In the order of `SETTING_IDS`.
 */
export function lostSettings(settings: readonly PlaceSetting[], inherited: InheritedSettings): SettingId[] {
  return SETTING_IDS.filter((id) => {
    const laidDown = inherited.some(({ values }) => (values[id] ?? null) !== null);
    const setting = settings.find((one) => one.id === id);
    return laidDown && (!setting || settingOf(setting, {}, inherited).origin === 'place');
  });
}

/** Whether two values are the same; the order of a list's lines is no difference. */
export function sameValue(a: SettingValue, b: SettingValue): boolean {
  const bare = (value: SettingValue): string | true | null => {
    if (value === null || value === false || value === '') return null;
    if (typeof value !== 'object') return value;
    return value.length === 0 ? null : [...value].sort().join('\n');
  };
  return bare(a) === bare(b);
}

/** Whether a listing with this visibility is found by everybody. A place that has no such setting shows all to all. */
export const isPublic = (visibility: SettingValue | undefined): boolean =>
  visibility == null || visibility === 'public' || visibility === 'everybody';
