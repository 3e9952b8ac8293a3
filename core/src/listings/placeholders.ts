import { countText, type TextRule } from './count-text';

/** What a text can leave to be filled in for each listing. */
export const PLACEHOLDERS = ['guests', 'date', 'time', 'zone', 'series', 'link', 'disclosure'] as const;
export type Placeholder = (typeof PLACEHOLDERS)[number];
/** Null: there is nothing to be filled in yet, as for the date of a show without one. */
export type PlaceholderValues = Readonly<Record<Placeholder, string | null>>;

const FORM = /\{([a-z]+)\}/g;

export interface Filled<Name extends string = Placeholder> {
  readonly text: string;
  /** Names in braces that there are not: most likely a slip of the finger. They stay as they are. */
  readonly unknown: readonly string[];
  /** Those that nothing is known for yet; they are left out. */
  readonly missing: readonly Name[];
}

/** Fills in what stands in braces: `With {guests} on {date}`. */
export function fillIn<Name extends string>(
  text: string,
  values: Readonly<Record<Name, string | null>>,
): Filled<Name> {
  const unknown = new Set<string>();
  const missing = new Set<Name>();
  const isPlaceholder = (name: string): name is Name => Object.hasOwn(values, name);
  const filled = text.replace(FORM, (whole, name: string) => {
    if (!isPlaceholder(name)) {
      unknown.add(name);
      return whole;
    }
    const value = values[name];
    if (value === null || value === '') missing.add(name);
    return value ?? '';
  });
  return { text: filled, unknown: [...unknown], missing: [...missing] };
}

const ELLIPSIS = '…';

/**
 * A shorter text that fits, cut at a word's end with an ellipsis. What stands in braces stays whole or goes whole. The
 * length that counts is that of the text once it is filled in. Null: not even the first word fits.
 */
export function shorten(text: string, rule: TextRule, values: PlaceholderValues): string | null {
  const fits = (candidate: string) => countText(fillIn(candidate, values).text, rule.unit) <= rule.max;
  if (fits(text)) return text;
  // Ends of words; a space within braces is none.
  const ends = [...text.matchAll(/(?<=\S)(?=\s)/g)].map(({ index }) => index);
  for (const end of ends.reverse()) {
    const candidate = text.slice(0, end).replace(/[\s.,;:–—-]+$/u, '') + ELLIPSIS;
    if (candidate.length > 1 && fits(candidate)) return candidate;
  }
  return null;
}

/** Hashtags as places count them: a `#` at the start or after a blank, and letters or digits behind it. */
export function countHashtags(text: string): number {
  return [...text.matchAll(/(?<=^|\s)#[\p{L}\p{N}_]+/gu)].length;
}
