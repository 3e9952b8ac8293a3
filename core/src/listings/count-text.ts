/** What places count a text's length in. */
export const TEXT_UNITS = ['utf16', 'grapheme', 'utf8_byte', 'code_point'] as const;
export type TextUnit = (typeof TEXT_UNITS)[number];

export interface TextRule {
  /** The most that is taken, inclusive. */
  readonly max: number;
  readonly unit: TextUnit;
}

/** Latin letters, signs and line ends that never join: each is one grapheme. Segmenting costs a hundred times as much. */
const SIMPLE = /^[\n\x20-\x7e\u00a1-\u00ac\u00ae-\u02ff\u2010-\u2027]*$/;
const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

/** The length of a text in a place's own unit. A family emoji is 11 in UTF-16, 7 code points, and one grapheme. */
export function countText(text: string, unit: TextUnit): number {
  switch (unit) {
    case 'utf16':
      return text.length;
    case 'grapheme':
      return SIMPLE.test(text) ? text.length : [...graphemes.segment(text)].length;
    case 'code_point':
      return Array.from(text).length;
    case 'utf8_byte':
      return utf8Bytes(text);
  }
}

/** By RFC 3629. Half a surrogate pair counts as what it is replaced by when it is sent. */
function utf8Bytes(text: string): number {
  let bytes = 0;
  for (const letter of text) {
    const code = letter.codePointAt(0)!;
    bytes += code < 0x80 ? 1 : code < 0x800 ? 2 : code < 0x10000 ? 3 : 4;
  }
  return bytes;
}

/** By how much a text is longer than a place takes; 0 when it fits, or the place has no rule. */
export function overLength(text: string, rule: TextRule | null): number {
  if (!rule) return 0;
  // No unit but bytes counts more than UTF-16 does.
  if (rule.unit !== 'utf8_byte' && text.length <= rule.max) return 0;
  return Math.max(0, countText(text, rule.unit) - rule.max);
}
