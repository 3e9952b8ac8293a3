import fc from 'fast-check';
import { mergeThreeWay, same } from './three-way';

const base = { title: 'Rye', description: '', people: ['a'] };

describe('mergeThreeWay', () => {
  it('takes what each alone has changed', () => {
    const got = mergeThreeWay(base, { ...base, title: 'Rye and water' }, { ...base, people: ['a', 'b'] });
    expect(got.merged).toEqual({ title: 'Rye and water', description: '', people: ['a', 'b'] });
    expect(got.conflicts).toEqual([]);
    expect(got.theirChanges).toEqual(['people']);
  });

  it('leaves to a person what both changed differently', () => {
    const got = mergeThreeWay(base, { ...base, title: 'Mine' }, { ...base, title: 'Theirs' });
    expect(got.conflicts).toEqual(['title']);
    expect(got.merged.title).toBe('Theirs');
  });

  it('sees no conflict where both made the same change', () => {
    const both = { ...base, people: ['b', 'c'] };
    expect(mergeThreeWay(base, both, { ...both, people: [...both.people] }).conflicts).toEqual([]);
  });

  const fields = fc.record({ a: fc.nat(2), b: fc.nat(2), c: fc.array(fc.nat(1), { maxLength: 2 }) });

  it('loses no change of either side but in the fields it names', () => {
    fc.assert(
      fc.property(fields, fields, fields, (from, mine, theirs) => {
        const { merged, conflicts } = mergeThreeWay(from, mine, theirs);
        for (const key of ['a', 'b', 'c'] as const) {
          if (conflicts.includes(key)) continue;
          if (!same(from[key], mine[key])) expect(merged[key]).toEqual(mine[key]);
          if (!same(from[key], theirs[key])) expect(merged[key]).toEqual(theirs[key]);
        }
      }),
    );
  });

  it('finds the same conflicts from either side', () => {
    fc.assert(
      fc.property(fields, fields, fields, (from, mine, theirs) => {
        expect(mergeThreeWay(from, mine, theirs).conflicts).toEqual(
          mergeThreeWay(from, theirs, mine).conflicts,
        );
      }),
    );
  });
});
