import fc from 'fast-check';
import { readFontDirectory } from './font-file';

/** A font of one table, `head` by its number, whose block is so long. */
function font(change: (view: DataView) => void = () => undefined): Uint8Array {
  const bytes = new Uint8Array(48 + 2 + 10);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, 0x774f4632);
  view.setUint32(4, 0x00010000);
  view.setUint32(8, bytes.length);
  view.setUint16(12, 1);
  view.setUint32(20, 10);
  bytes[48] = 1;
  bytes[49] = 54;
  change(view);
  return bytes;
}

describe('a font that somebody sends', () => {
  it('is read by its directory', () => {
    expect(readFontDirectory(font())).toEqual({ from: 50, length: 10, unpacked: 54 });
  });

  const table: [string, (view: DataView) => void][] = [
    ['another signature', (view) => view.setUint32(0, 0x774f4646)],
    ['a collection', (view) => view.setUint32(4, 0x74746366)],
    ['another length than it has', (view) => view.setUint32(8, 61)],
    ['no table', (view) => view.setUint16(12, 0)],
    ['more tables than it has room for', (view) => view.setUint16(12, 40)],
    ['a block that is longer than the file', (view) => view.setUint32(20, 11)],
    ['no block', (view) => view.setUint32(20, 0)],
    ['a number that begins with nought', (view) => view.setUint8(49, 0x80)],
  ];
  for (const [what, change] of table)
    it(`is none with ${what}`, () => expect(readFontDirectory(font(change))).toBeNull());

  it('is never read beyond its end, whatever it holds', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.boolean(), (some, isHeaded) => {
        const bytes = isHeaded ? new Uint8Array([...font().slice(0, 48), ...some]) : some;
        if (isHeaded) new DataView(bytes.buffer).setUint32(8, bytes.length);
        const read = readFontDirectory(bytes);
        expect(read === null || read.from + read.length <= bytes.length).toBeTrue();
      }),
    );
  });
});
