import { judgePicture, readPicture, type PictureRule } from './picture';

/** The first bytes of such a file, as the formats have them. */
const png = (width: number, height: number) => {
  const file = Buffer.alloc(40);
  file.writeUInt32BE(0x89504e47, 0);
  file.write('IHDR', 12, 'latin1');
  file.writeUInt32BE(width, 16);
  file.writeUInt32BE(height, 20);
  return file;
};
const jpeg = (width: number, height: number) => {
  const file = Buffer.alloc(60);
  file.writeUInt16BE(0xffd8, 0);
  // A comment first: the size stands wherever it stands.
  file.writeUInt16BE(0xfffe, 2);
  file.writeUInt16BE(8, 4);
  file.writeUInt16BE(0xffc2, 12);
  file.writeUInt16BE(17, 14);
  file.writeUInt16BE(height, 17);
  file.writeUInt16BE(width, 19);
  return file;
};
const rule: PictureRule = { needed: true, aspect: [5, 2], minWidth: 1500, minHeight: 600, maxBytes: 50 };

describe('a place looks at a picture', () => {
  for (const [what, file, wanted] of [
    ['that is right', png(1500, 600), null],
    ['that is larger', png(3000, 1200), null],
    ['that is too small', png(1000, 400), 'At least 1500x600 pixels.'],
    ['of another shape', png(1600, 900), 'It has to be 5 to 2.'],
    ['that is too heavy', jpeg(1500, 600), 'At most 50 bytes.'],
    ['that is none', Buffer.from('<html>'), 'This is neither a PNG nor a JPEG.'],
    ['that is nothing', Buffer.alloc(0), 'This is neither a PNG nor a JPEG.'],
  ] as const) {
    it(what, () => expect(judgePicture(readPicture(file), rule)).toBe(wanted));
  }

  it('and reads its size', () =>
    expect(readPicture(jpeg(1500, 600))).toEqual({
      type: 'image/jpeg',
      width: 1500,
      height: 600,
      bytes: 60,
    }));
});
