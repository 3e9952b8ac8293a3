import { listingText, type OwnText, type SharedText } from './inherit';
import { fillIn, type Placeholder, type PlaceholderValues } from './placeholders';
import {
  sameValue,
  settingOf,
  type InheritedSettings,
  type PlaceSetting,
  type SettingId,
  type SettingValue,
  type SettingValues,
} from './settings';

/** What placeholders are filled in from. */
export interface ShowFacts {
  readonly startsAtMs: number | null;
  /** The show's zone; null without a start. */
  readonly zone: string | null;
  readonly people: readonly { readonly name: string; readonly part: string }[];
  /** Null: the show belongs to none. */
  readonly series: { readonly name: string; readonly evergreenUrl: string } | null;
}

const LANGUAGE = 'en-GB';

export function placeholderValues(facts: ShowFacts, disclosure: string | null): PlaceholderValues {
  const { startsAtMs, zone } = facts;
  const told = (style: Intl.DateTimeFormatOptions) =>
    startsAtMs === null || zone === null
      ? null
      : new Intl.DateTimeFormat(LANGUAGE, { ...style, timeZone: zone }).format(startsAtMs);
  const guests = facts.people.filter(({ part }) => part === 'guest').map(({ name }) => name);
  return {
    guests: guests.length > 0 ? new Intl.ListFormat(LANGUAGE).format(guests) : null,
    date: told({ weekday: 'long', day: 'numeric', month: 'long' }),
    time: told({ hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }),
    zone: zone?.replaceAll('_', ' ').split('/').at(-1) ?? null,
    series: facts.series?.name ?? null,
    link: facts.series?.evergreenUrl ?? null,
    disclosure,
  };
}

/** A listing as it will read at its place. */
export interface Presented {
  readonly title: string;
  readonly description: string;
  readonly values: PlaceholderValues;
  readonly unknown: readonly string[];
  readonly missing: readonly Placeholder[];
}

export function present(
  facts: ShowFacts,
  shared: SharedText,
  own: OwnText & { readonly settings: SettingValues },
): Presented {
  const disclosure = own.settings.disclosure;
  const values = placeholderValues(facts, typeof disclosure === 'string' ? disclosure : null);
  const text = listingText(shared, own);
  const [title, description] = [fillIn(text.title, values), fillIn(text.description, values)];
  return {
    title: title.text,
    description: description.text,
    values,
    unknown: [...new Set([...title.unknown, ...description.unknown])],
    missing: [...new Set([...title.missing, ...description.missing])],
  };
}

/**
 * What a place is told of its settings: what is to be otherwise than it leaves them, and, so that nothing lingers, what
 * it was told before.
 */
export function settingsToSend(
  settings: readonly PlaceSetting[],
  own: SettingValues,
  inherited: InheritedSettings,
  sentBefore: SettingValues,
): SettingValues {
  const wanted: Partial<Record<SettingId, SettingValue>> = {};
  for (const setting of settings) {
    if (setting.from !== 'api') continue;
    const { value, origin } = settingOf(setting, own, inherited);
    if (origin !== 'place' || setting.id in sentBefore) wanted[setting.id] = value;
  }
  return wanted;
}

/** What is otherwise at a place than it was told: `title`, `description`, `slot`, or a setting. */
export function differences(
  told: { title: string; description: string; startsAtMs: number | null; settings: SettingValues },
  there: { title: string; description: string; startsAtMs: number | null; settings: SettingValues },
): string[] {
  const found: string[] = [];
  if (told.title !== there.title) found.push('title');
  if (told.description !== there.description) found.push('description');
  if (told.startsAtMs !== null && told.startsAtMs !== there.startsAtMs) found.push('slot');
  for (const [id, value] of Object.entries(told.settings) as [SettingId, SettingValue][])
    if (!sameValue(value, there.settings[id] ?? null)) found.push(id);
  return found;
}
