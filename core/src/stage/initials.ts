const SEGMENTER = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/**
 * What stands for somebody whose picture is not there: the first letters of their first and last name. Of scripts that join
 * their letters or know no capitals only the first one, since two side by side would read as a word.
 *
 * @returns empty: the name has no letter
 */
export function initialsOf(name: string): string {
  const words = name.split(/\s+/).filter((word) => /[\p{L}\p{N}]/u.test(word));
  const [first, last] = [words[0], words.length > 1 ? words.at(-1) : undefined].map((word) =>
    word === undefined ? '' : firstOf(word),
  ) as [string, string];
  const hasCapitals = first.toLocaleLowerCase() !== first.toLocaleUpperCase();
  return hasCapitals ? (first + last).toLocaleUpperCase() : first;
}

/** Not a bracket or a quotation mark. */
function firstOf(word: string): string {
  const graphemes = Array.from(SEGMENTER.segment(word), ({ segment }) => segment);
  return graphemes.find((one) => /[\p{L}\p{N}]/u.test(one)) ?? '';
}
