import fc from 'fast-check';
import { REACTION_KINDS, reactionsOf, reactionsSince, sumOf } from './reactions';

describe('reactions', () => {
  it('go by our names, and what is no count is none', () => {
    expect(
      reactionsOf({ heart: 3, clap: 0, sourdough: 2, moon: 1, laugh: -1, surprise: 'many', other: 1.5 }),
    ).toEqual({
      heart: 3,
      clap: 0,
      other: 3,
    });
  });

  for (const [what, before, totals, since] of [
    ['are none when a channel is met for the first time', null, { heart: 900 }, {}],
    ['are what came since', { heart: 2 }, { heart: 5, clap: 1 }, { heart: 3, clap: 1 }],
    ['are none when nothing came', { heart: 2 }, { heart: 2 }, {}],
    [
      'are all there is when the place began anew',
      { heart: 900, clap: 3 },
      { heart: 4, clap: 3 },
      { heart: 4 },
    ],
  ] as const)
    it(what, () => expect(reactionsSince(before, totals)).toEqual(since));

  it('add up to what a place told, however often it is asked', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.constantFrom(...REACTION_KINDS), fc.nat(50))), (steps) => {
        const totals: Partial<Record<(typeof REACTION_KINDS)[number], number>> = {};
        let [counted, before] = [0, { ...totals }];
        for (const [kind, more] of steps) {
          totals[kind] = (totals[kind] ?? 0) + more;
          counted += sumOf(reactionsSince(before, totals));
          before = { ...totals };
        }
        expect(counted).toBe(sumOf(totals));
      }),
    ));
});
