import { slugOf } from './slug';

describe('a name for addresses', () => {
  const id = '1a2b3c4d-0000-4000-8000-000000000000';
  for (const [name, wanted] of [
    ['The Proving Hour', 'the-proving-hour-1a2b3c4d'],
    ['  Käse & Bröt!  ', 'kase-brot-1a2b3c4d'],
    ['小麦', '1a2b3c4d'],
    ['🍞', '1a2b3c4d'],
    ['x'.repeat(200), `${'x'.repeat(60)}-1a2b3c4d`],
  ] as const) {
    it(`${name.slice(0, 20)} is ${wanted.slice(0, 30)}`, () => expect(slugOf(name, id)).toBe(wanted));
  }
});
