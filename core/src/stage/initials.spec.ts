import { initialsOf } from './initials';

describe('initials', () => {
  const names: readonly [string, string][] = [
    ['Odalys Brandt', 'OB'],
    ['Teo Marchetti-Lunn', 'TM'],
    ['Pascoe', 'P'],
    ['ilse van der Molen', 'IM'],
    ['“Bread” (Ottoline) Fen', 'BF'],
    ['E\u0301lodie Roux', 'E\u0301R'],
    ['مريم الخوارزمي', 'م'],
    ['小林 花', '小'],
    ['7 Mills', '7'],
    ['— …', ''],
    ['', ''],
    ['Wanjiru '.repeat(40), 'WW'],
  ];
  for (const [name, wanted] of names)
    it(`of “${name.slice(0, 30)}” are “${wanted}”`, () => expect(initialsOf(name)).toBe(wanted));
});
