/**
 * Texts as they are compared, so that a word is found however it is disguised: in other letters that look alike, with
 * marks on them, with digits for letters, spaced out, drawn out, or with characters between that nobody sees.
 */

/** What looks like a Latin letter and is none. Of other alphabets only those that are taken for it at a glance. */
const LOOK_ALIKES: Readonly<Record<string, string>> = {
  а: 'a',
  в: 'b',
  е: 'e',
  ё: 'e',
  к: 'k',
  м: 'm',
  н: 'h',
  о: 'o',
  р: 'p',
  с: 'c',
  т: 't',
  у: 'y',
  х: 'x',
  і: 'i',
  ј: 'j',
  ѕ: 's',
  ԁ: 'd',
  ɡ: 'g',
  ı: 'i',
  ł: 'l',
  ø: 'o',
  đ: 'd',
  ß: 'ss',
  æ: 'ae',
  œ: 'oe',
  α: 'a',
  β: 'b',
  ε: 'e',
  η: 'n',
  ι: 'i',
  κ: 'k',
  μ: 'u',
  ν: 'v',
  ο: 'o',
  ρ: 'p',
  τ: 't',
  υ: 'u',
  χ: 'x',
};
/** Only within a word: a number alone stays a number. */
const DIGITS: Readonly<Record<string, string>> = {
  '0': 'o',
  '1': 'i',
  '3': 'e',
  '4': 'a',
  '5': 's',
  '7': 't',
  '8': 'b',
  '@': 'a',
  $: 's',
  '!': 'i',
  '|': 'i',
  '€': 'e',
};
/** Marks, what has no shape, and the fillers of Hangul, which are letters by name. */
const UNSEEN = /[\p{Cf}\p{Mn}\p{Me}\u115f\u1160\u3164\uffa0]/gu;

/** Several rules ask for the same text, one after the other. */
let last: { readonly text: string; readonly words: readonly string[] } = { text: '', words: [] };

const PLAIN = /^[ -~]*$/;
const PLAIN_WORD = /^[a-z]+$/;

/** The words of a text, folded. Emoji and punctuation part words; a row of single letters is read as one word. */
export function foldedWords(text: string): readonly string[] {
  if (last.text !== text) last = { text, words: foldAll(text) };
  return last.words;
}

function foldAll(text: string): readonly string[] {
  // Most texts have nothing to be taken apart.
  const plain = PLAIN.test(text)
    ? text.toLowerCase()
    : text.normalize('NFKD').replace(UNSEEN, '').toLowerCase();
  const packets = plain.split(/[^\p{L}\p{N}@$!|€]+/u).filter(Boolean);
  const words: string[] = [];
  let spaced = '';
  const finish = () => {
    if (spaced !== '') words.push(folded(spaced));
    spaced = '';
  };
  for (const packet of packets) {
    if (packet.length <= 2 && Array.from(packet).length === 1) spaced += packet;
    else {
      finish();
      words.push(folded(packet));
    }
  }
  finish();
  return words.filter(Boolean);
}

/** A whole text, for telling whether two say the same. */
export const foldedText = (text: string): string => foldedWords(text).join(' ');

function folded(word: string): string {
  if (PLAIN_WORD.test(word)) return word.replace(/([a-z])\1+/g, '$1');
  const isNumber = /^\p{N}+$/u.test(word);
  // Marks of exclamation are letters only between letters.
  const inner = word.replace(/^[!|]+|[!|]+$/g, '');
  const letters = Array.from(inner)
    .map((one) => LOOK_ALIKES[one] ?? (isNumber ? one : (DIGITS[one] ?? one)))
    .join('');
  return isNumber ? letters : letters.replace(/(\p{L})\1+/gu, '$1');
}

/** Whether a phrase is in a text, as whole words, in either's disguise. A phrase of nothing is in none. */
export function hasPhrase(words: readonly string[], phrase: string): boolean {
  const wanted = foldedWords(phrase);
  if (wanted.length === 0) return false;
  return words.some((_, at) => wanted.every((word, i) => words[at + i] === word));
}
