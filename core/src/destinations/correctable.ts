/** The figures of a place's rules that a team can correct when the place changes them: by name, with their bounds. */
export const CORRECTABLE = {
  title: { least: 1, most: 500 },
  description: { least: 1, most: 10_000 },
  hashtags: { least: 0, most: 100 },
  book_least_minutes: { least: 0, most: 60 * 24 * 30 },
  book_most_minutes: { least: 1, most: 60 * 24 * 400 },
  lapse_minutes: { least: 1, most: 60 * 24 },
  longest_minutes: { least: 1, most: 60 * 48 },
} as const;
export type Correctable = keyof typeof CORRECTABLE;
export const CORRECTABLES = Object.keys(CORRECTABLE) as [Correctable, ...Correctable[]];

/** The parts of a place's rules that hold these figures. */
export interface CorrectableRules {
  readonly title: { readonly max: number } | null;
  readonly description: { readonly max: number } | null;
  readonly hashtags: number | null;
  readonly booking: { readonly kind: string; readonly leastMinutes?: number; readonly mostMinutes?: number };
  readonly lateStart: { readonly kind: string; readonly afterMinutes?: number };
  readonly longestMinutes: number | null;
}

/** A figure as it stands; null: this place has no such rule, and none is made up. */
export function figureOf(rules: CorrectableRules, rule: Correctable): number | null {
  switch (rule) {
    case 'title':
    case 'description':
      return rules[rule]?.max ?? null;
    case 'hashtags':
      return rules.hashtags;
    case 'book_least_minutes':
      return rules.booking.leastMinutes ?? null;
    case 'book_most_minutes':
      return rules.booking.mostMinutes ?? null;
    case 'lapse_minutes':
      return rules.lateStart.afterMinutes ?? null;
    case 'longest_minutes':
      return rules.longestMinutes;
  }
}

/** The rules with one figure corrected; the same where the place has no such rule. */
export function corrected<R extends CorrectableRules>(rules: R, rule: Correctable, figure: number): R {
  if (figureOf(rules, rule) === null) return rules;
  switch (rule) {
    case 'title':
    case 'description':
      return { ...rules, [rule]: { ...rules[rule], max: figure } };
    case 'hashtags':
      return { ...rules, hashtags: figure };
    case 'book_least_minutes':
      return { ...rules, booking: { ...rules.booking, leastMinutes: figure } };
    case 'book_most_minutes':
      return { ...rules, booking: { ...rules.booking, mostMinutes: figure } };
    case 'lapse_minutes':
      return { ...rules, lateStart: { ...rules.lateStart, afterMinutes: figure } };
    case 'longest_minutes':
      return { ...rules, longestMinutes: figure };
  }
}
