import { corrected, CORRECTABLES, figureOf, type CorrectableRules } from './correctable';

describe('a corrected rule', () => {
  const all: CorrectableRules = {
    title: { max: 1 },
    description: { max: 2 },
    hashtags: 3,
    booking: { kind: 'by_api', leastMinutes: 4, mostMinutes: 5 },
    lateStart: { kind: 'lapses', afterMinutes: 6 },
    longestMinutes: 7,
  };
  const none: CorrectableRules = {
    title: null,
    description: null,
    hashtags: null,
    booking: { kind: 'none' },
    lateStart: { kind: 'waits' },
    longestMinutes: null,
  };

  for (const rule of CORRECTABLES) {
    it(`${rule} is what was given, and every other is as it was`, () => {
      const after = corrected(all, rule, 99);
      for (const other of CORRECTABLES)
        expect(figureOf(after, other))
          .withContext(other)
          .toBe(other === rule ? 99 : figureOf(all, other));
    });
    it(`${rule} is not made up where the place has none`, () => {
      expect(figureOf(none, rule)).toBeNull();
      expect(corrected(none, rule, 99)).toEqual(none);
    });
  }
});
