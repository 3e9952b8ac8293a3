import { countText, overLength, TEXT_UNITS } from './count-text';

describe('the length of a text', () => {
  const family = '👩‍👩‍👧‍👦';
  const cases: [string, Record<(typeof TEXT_UNITS)[number], number>][] = [
    ['', { utf16: 0, grapheme: 0, utf8_byte: 0, code_point: 0 }],
    ['Rye', { utf16: 3, grapheme: 3, utf8_byte: 3, code_point: 3 }],
    ['Brötchen', { utf16: 8, grapheme: 8, utf8_byte: 9, code_point: 8 }],
    ['o\u0308', { utf16: 2, grapheme: 1, utf8_byte: 3, code_point: 2 }],
    ['🍞', { utf16: 2, grapheme: 1, utf8_byte: 4, code_point: 1 }],
    [family, { utf16: 11, grapheme: 1, utf8_byte: 25, code_point: 7 }],
    ['خبز', { utf16: 3, grapheme: 3, utf8_byte: 6, code_point: 3 }],
    ['miller’s', { utf16: 8, grapheme: 8, utf8_byte: 10, code_point: 8 }],
  ];
  for (const [text, wanted] of cases) {
    it(`of “${text}” is counted in each unit`, () => {
      for (const unit of TEXT_UNITS) expect(countText(text, unit)).withContext(unit).toBe(wanted[unit]);
    });
  }

  it('in graphemes is what the segmenter of the standard finds, in simple texts too', () => {
    const segmenter = new Intl.Segmenter(undefined, { granularity: 'grapheme' });
    const letters = [...Array.from('aß€ñ ŷ–’…\n~ˆ'), family, 'o\u0308', '\u00ad', '\u200d', 'ก็', '🇵🇹'];
    for (let i = 0; i < 400; i++) {
      const text = Array.from(
        { length: 6 },
        (_, k) => letters[(i * 7 + k * k * (i + 3)) % letters.length]!,
      ).join('');
      expect(countText(text, 'grapheme'))
        .withContext(JSON.stringify(text))
        .toBe([...segmenter.segment(text)].length);
    }
  });

  it('in bytes is what an encoder makes', () => {
    for (const text of ['', 'a', 'ß', '€', '🍞🥖', family, 'mixed ß € 🍞'])
      expect(countText(text, 'utf8_byte')).toBe(encodeURIComponent(text).replace(/%../g, 'x').length);
  });
});

describe('a text that is too long', () => {
  it('is over by what the place’s own unit says', () => {
    expect(overLength('Röst', { max: 3, unit: 'utf8_byte' })).toBe(2);
    expect(overLength('Röst', { max: 4, unit: 'grapheme' })).toBe(0);
    expect(overLength('Röst', null)).toBe(0);
  });
});
