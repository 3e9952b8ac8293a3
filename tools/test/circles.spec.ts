import path from 'node:path';
import { ROOT } from '../build/main';
import { circlesOf, importsUnder, type Imports } from './circles';

describe('circles of imports', () => {
  const graph = (text: string): Imports =>
    new Map(text.split(' ').map((one) => [one[0]!, one.slice(2).split('')] as const));

  for (const [text, circles] of [
    ['a>b b>c c>', []],
    ['a>bc b>d c>d d>', []],
    ['a>b b>a', [['a', 'b']]],
    ['a>a b>', [['a']]],
    ['a>b b>c c>b d>a', [['b', 'c']]],
    [
      'a>b b>c c>a d>e e>d',
      [
        ['a', 'b', 'c'],
        ['d', 'e'],
      ],
    ],
  ] as const) {
    it(`are found in ${text}`, () => {
      const found = circlesOf(graph(text)).map((circle) => circle.sort().join(''));
      expect(found.sort()).toEqual(circles.map((circle) => circle.join('')));
    });
  }

  for (const part of ['core', 'contract', 'runtime', 'server', 'relay', 'standins', 'web', 'e2e', 'tools']) {
    it(`are nowhere in ${part}`, () => {
      const imports = importsUnder(path.join(ROOT, part));
      expect(imports.size).withContext('files read').toBeGreaterThan(3);
      const circles = circlesOf(imports).map((circle) => circle.map((file) => path.relative(ROOT, file)));
      expect(circles).toEqual([]);
    });
  }
});
