import { wrap } from './wrap';

describe('wrapping a text', () => {
  const fits = (line: string) => line.length <= 10;
  const cases: [string, string[]][] = [
    ['', []],
    ['rye', ['rye']],
    ['rye and wheat', ['rye and', 'wheat']],
    ['  much   room\n here ', ['much room', 'here']],
    ['one two three four five six seven', ['one two', 'three four', 'five six…']],
    ['unbreakablewords', ['unbreakabl', 'ewords']],
  ];
  for (const [text, wanted] of cases) {
    it(`“${text}”`, () => {
      const lines = wrap(text, 3, fits);
      expect(lines).toEqual(wanted);
    });
  }

  it('never gives more lines than wanted, nor one that does not fit, whatever comes', () => {
    for (const text of ['x'.repeat(10_000), 'a b '.repeat(3000), '🍞'.repeat(500), `${'y'.repeat(50)} end`]) {
      const lines = wrap(text, 3, fits);
      expect(lines.length).toBeLessThanOrEqual(3);
      expect(lines.every(fits)).toBeTrue();
    }
  });
});
