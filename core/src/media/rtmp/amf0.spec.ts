import fc from 'fast-check';
import { decodeAmf, encodeAmf, type AmfObject, type AmfValue } from './amf0';

const text = fc.string({ unit: 'grapheme', maxLength: 20 });
const { value: anyValue } = fc.letrec<{ value: AmfValue }>((tie) => ({
  value: fc.oneof(
    { maxDepth: 3 },
    fc.double({ noNaN: true }),
    fc.boolean(),
    text,
    fc.constant(null),
    fc.constant(undefined),
    fc.array(tie('value'), { maxLength: 3 }),
    fc.dictionary(fc.string({ minLength: 1, maxLength: 8 }), tie('value'), {
      maxKeys: 3,
      noNullPrototype: false,
    }),
  ),
}));
/** Objects are read without a prototype; for comparing, they get the one they were written with. */
const plain = (value: AmfValue): AmfValue => {
  if (Array.isArray(value)) return (value as AmfValue[]).map(plain);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value as AmfObject).map(([name, one]) => [name, plain(one)]));
};

describe('AMF0', () => {
  it('comes back as it was', () => {
    fc.assert(
      fc.property(fc.array(anyValue, { maxLength: 4 }), (values) => {
        const read: unknown[] = decodeAmf(encodeAmf(...values)).map(plain);
        expect(read).toEqual(values.map(plain));
      }),
    );
  });

  it('is written as the specification says', () => {
    const command = encodeAmf('connect', 1, { app: 'live', ok: true }, null);
    const ascii = (word: string) => Array.from(word, (c) => c.charCodeAt(0));
    expect([...command]).toEqual([
      ...[2, 0, 7, ...ascii('connect')],
      ...[0, 0x3f, 0xf0, 0, 0, 0, 0, 0, 0],
      ...[3, 0, 3, ...ascii('app'), 2, 0, 4, ...ascii('live'), 0, 2, ...ascii('ok'), 1, 1, 0, 0, 9],
      5,
    ]);
  });

  it('carries long texts, and reads arrays with names whatever count they claim', () => {
    const long = 'ä'.repeat(40_000);
    expect(decodeAmf(encodeAmf(long))[0] === long).toBeTrue();
    expect(decodeAmf(encodeAmf('a\ud800b'))[0] === 'a\ufffdb').toBeTrue();
    const ecma = Uint8Array.of(8, 0xff, 0xff, 0xff, 0xff, 0, 1, 97, 1, 1, 0, 0, 9);
    const read: unknown[] = decodeAmf(ecma).map(plain);
    expect(read).toEqual([{ a: true }]);
  });

  it('cut anywhere is refused or gives only what was whole', () => {
    const bytes = encodeAmf('onStatus', 0, null, { code: 'x', list: [1, 'two'] });
    for (let cut = 1; cut < bytes.length; cut++) {
      let read: AmfValue[] = [];
      try {
        read = decodeAmf(bytes.subarray(0, cut));
      } catch (error) {
        expect(error).toBeInstanceOf(RangeError);
      }
      expect(read.length).toBeLessThan(4);
    }
  });

  it('from outside does no harm: nesting, huge arrays, strange names, what is not UTF-8', () => {
    const nested = Uint8Array.from(Array.from({ length: 50 }, () => [10, 0, 0, 0, 1]).flat());
    const wrong = [
      nested,
      Uint8Array.of(10, 0xff, 0xff, 0xff, 0xff),
      Uint8Array.of(2, 0, 1, 0xff),
      Uint8Array.of(17),
    ];
    for (const bytes of wrong) expect(() => decodeAmf(bytes)).toThrowError(RangeError);
    const [object] = decodeAmf(encodeAmf(JSON.parse('{"__proto__":{"isAdmin":true}}') as AmfObject));
    expect(({} as { isAdmin?: boolean }).isAdmin).toBeUndefined();
    expect(Object.getPrototypeOf(object)).toBeNull();
  });

  it('has no name for an empty name', () => {
    expect(() => encodeAmf({ '': 1 })).toThrowError(RangeError);
  });
});
