import fc from 'fast-check';
import { readMovingPicture } from './webp-file';

const chunk = (name: string, inside: readonly number[]): number[] => [
  ...Array.from(name, (sign) => sign.charCodeAt(0)),
  ...uint(inside.length, 4),
  ...inside,
  ...(inside.length % 2 ? [0] : []),
];
const uint = (value: number, bytes: number): number[] =>
  Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** i) % 256);
const frame = (ms = 33, width = 64, height = 36, inside = chunk('ALPH', [1, 2, 3])): number[] =>
  chunk('ANMF', [
    ...uint(0, 3),
    ...uint(0, 3),
    ...uint(width - 1, 3),
    ...uint(height - 1, 3),
    ...uint(ms, 3),
    0,
    ...inside,
  ]);
const head = (width = 64, height = 36, flags = 0x12): number[] =>
  chunk('VP8X', [flags, 0, 0, 0, ...uint(width - 1, 3), ...uint(height - 1, 3)]);
const loops = chunk('ANIM', [0, 0, 0, 0, 0, 0]);
function file(...chunks: number[][]): Uint8Array {
  const inside = [...Array.from('WEBP', (sign) => sign.charCodeAt(0)), ...chunks.flat()];
  return new Uint8Array(chunk('RIFF', inside));
}

describe('a picture that moves, as a file', () => {
  it('is read by its frames', () => {
    const three = file(head(), loops, frame(), frame(34), frame(33, 20, 10));
    expect(readMovingPicture(three)).toEqual({ width: 64, height: 36, frames: 3, lengthMs: 100 });
  });

  const WRONG: readonly [string, Uint8Array][] = [
    ['nothing', new Uint8Array()],
    ['it stands still', file(head(64, 36, 0x10), loops, frame())],
    ['it has no frame', file(head(), loops)],
    ['it is larger than an overlay', file(head(1400, 36), loops, frame())],
    ['it is longer than an overlay', file(head(), loops, frame(10_001))],
    ['it takes no time', file(head(), loops, frame(0))],
    ['a frame stands outside of it', file(head(), loops, frame(33, 65))],
    ['it holds something else', file(head(), loops, frame(), chunk('EXIF', [1, 2]))],
    ['something else is in a frame', file(head(), loops, frame(33, 64, 36, chunk('JUNK', [1])))],
    ['a frame breaks off', file(head(), loops, frame(33, 64, 36, [65, 66, 67]))],
    ['too many frames', file(head(), loops, ...Array.from({ length: 400 }, () => frame(1)))],
  ];
  for (const [what, bytes] of WRONG)
    it(`is none when ${what}`, () => {
      expect(readMovingPicture(bytes)).toBeNull();
    });

  it('is none, and nothing worse, whatever is cut off or changed', () => {
    const whole = file(head(), loops, frame(), frame());
    fc.assert(
      fc.property(fc.nat(whole.length - 1), fc.nat(255), fc.boolean(), (at, byte, isCut) => {
        const bytes = isCut ? whole.slice(0, at) : whole.with(at, byte);
        const read = readMovingPicture(bytes);
        if (isCut) expect(read).toBeNull();
        else if (read) expect(read.lengthMs).toBeGreaterThan(0);
      }),
    );
  });
});
