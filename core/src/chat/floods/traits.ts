import { foldedWords } from '../moderation/fold';

/** Shorter than this, and it is said by many who mean nothing by it. */
const LEAST_WORDS = 5;
const LEAST_SIGNS = 12;
/** Words that are compared together: openings of four are everybody's. */
const STRETCH = 5;
/** Of a message's own traits: so many are the flood's, or it is another message that only says some of the same. */
const LIKENESS = 0.5;

/**
 * What a text is told again by: its stretches of five words, or of signs where it has no words. Of many the few that
 * come first in an order that has nothing to do with what they say, which texts that are mostly the same have in common.
 * Short texts have none, and a sign that is drawn out is one sign: applause is no flood.
 */
export function traitsOf(text: string): readonly string[] {
  const words = foldedWords(text);
  if (words.length >= LEAST_WORDS) {
    const last = Math.max(0, words.length - STRETCH);
    return fewOf(Array.from({ length: last + 1 }, (_, i) => words.slice(i, i + STRETCH).join(' ')));
  }
  const signs = Array.from(text.replace(/[\s\p{L}\p{N}]+/gu, '')).filter(
    (sign, i, all) => sign !== all[i - 1],
  );
  if (signs.length < LEAST_SIGNS) return [];
  return fewOf(signs.slice(3).map((_, i) => signs.slice(i, i + 4).join('')));
}

const FEW = 4;

function fewOf(stretches: readonly string[]): readonly string[] {
  const scattered = [...new Set(stretches)].map((one) => [scatter(one), one] as const);
  return scattered
    .sort(([a], [b]) => a - b)
    .slice(0, FEW)
    .map(([, one]) => one);
}

/** A number for a text, spread evenly (FNV-1a, 32 bits). */
function scatter(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  }
  return hash >>> 0;
}

/** By how much a message is like a flood: the share of its own traits that are the flood's; 0 where it has none. */
function likeness(traits: readonly string[], ofFlood: { has(trait: string): boolean }): number {
  if (traits.length === 0) return 0;
  return traits.filter((trait) => ofFlood.has(trait)).length / traits.length;
}

export const isLike = (traits: readonly string[], ofFlood: { has(trait: string): boolean }) =>
  likeness(traits, ofFlood) >= LIKENESS;
