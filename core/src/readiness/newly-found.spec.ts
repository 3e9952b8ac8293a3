import { newlyFound } from './newly-found';
import type { PlaceFinding } from './readiness';

const finding = (change: Partial<PlaceFinding> = {}): PlaceFinding => ({
  level: 'block',
  code: 'text_too_long',
  destinationId: 'harbour',
  field: 'title',
  deadlineMs: null,
  fix: null,
  count: 3,
  names: [],
  ...change,
});

describe('what a change would newly hold up', () => {
  const CASES: readonly (readonly [string, PlaceFinding[], PlaceFinding[], number])[] = [
    ['nothing where nothing is found', [], [], 0],
    ['a block that was not there', [], [finding()], 1],
    ['nothing that was found before', [finding()], [finding()], 0],
    ['nothing that only has more of it', [finding()], [finding({ count: 9, deadlineMs: 5 })], 0],
    ['the same at another destination', [finding()], [finding(), finding({ destinationId: 'tower' })], 1],
    ['the same about another field', [finding()], [finding({ field: 'description' })], 1],
    ['what was a warning and is a block now', [finding({ level: 'warning' })], [finding()], 1],
    ['no advice', [], [finding({ level: 'advice' })], 0],
    ['nothing that goes away', [finding()], [], 0],
  ];
  for (const [what, before, after, count] of CASES) {
    it(`is ${what}`, () => expect(newlyFound(before, after).length).toBe(count));
  }
});
