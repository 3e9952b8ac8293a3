import { cutOf, isSmall, MOST_ZOOM, ratioOf, sentSize, type PictureRule } from './picture';

const rule = (change: Partial<PictureRule> = {}): PictureRule => ({
  aspect: '16:9',
  minWidth: null,
  minHeight: null,
  maxBytes: null,
  ...change,
});

describe('the cut of a picture', () => {
  for (const [picture, aspect, crop, wanted] of [
    [{ width: 1600, height: 900 }, '16:9', null, { left: 0, top: 0, width: 1600, height: 900 }],
    [{ width: 1600, height: 1200 }, '16:9', null, { left: 0, top: 150, width: 1600, height: 900 }],
    [{ width: 1000, height: 2000 }, '1:1', null, { left: 0, top: 500, width: 1000, height: 1000 }],
    [
      { width: 2000, height: 1000 },
      '1:1',
      { x: 0, y: 0.5, zoom: 1 },
      { left: 0, top: 0, width: 1000, height: 1000 },
    ],
    [
      { width: 2000, height: 1000 },
      '1:1',
      { x: 1, y: 1, zoom: 2 },
      { left: 1500, top: 500, width: 500, height: 500 },
    ],
    [{ width: 640, height: 480 }, null, null, { left: 0, top: 0, width: 640, height: 480 }],
  ] as const) {
    it(`${picture.width}x${picture.height} as ${aspect ?? 'it is'}`, () =>
      expect(cutOf(picture, aspect, crop)).toEqual(wanted));
  }

  it('lies inside the picture and has the shape, whatever is asked for', () => {
    let seed = 7;
    const random = () => (seed = (seed * 48271) % 2147483647) / 2147483647;
    for (let i = 0; i < 2000; i++) {
      const picture = { width: 1 + Math.floor(random() * 5000), height: 1 + Math.floor(random() * 5000) };
      const aspect = ['16:9', '5:2', '1:1', '9:16'][Math.floor(random() * 4)]!;
      const crop = { x: random() * 3 - 1, y: random() * 3 - 1, zoom: random() * 9 };
      const { left, top, width, height } = cutOf(picture, aspect, crop);
      for (const value of [left, top, width, height]) expect(Number.isInteger(value)).toBeTrue();
      expect(left).toBeGreaterThanOrEqual(0);
      expect(top).toBeGreaterThanOrEqual(0);
      expect(left + width).toBeLessThanOrEqual(picture.width);
      expect(top + height).toBeLessThanOrEqual(picture.height);
      // To the pixel, which for a few pixels is a lot.
      if (height > 100) expect(Math.abs(width / height / ratioOf(aspect)! - 1)).toBeLessThan(0.02);
      expect(width).toBeGreaterThanOrEqual(
        Math.floor(Math.min(picture.width, picture.height * ratioOf(aspect)!) / MOST_ZOOM),
      );
    }
  });
});

describe('the size that is sent', () => {
  for (const [cut, rules, wanted] of [
    [{ width: 1600, height: 900 }, rule(), { width: 1600, height: 900 }],
    [{ width: 4000, height: 2250 }, rule(), { width: 1920, height: 1080 }],
    [{ width: 480, height: 270 }, rule({ minWidth: 960, minHeight: 540 }), { width: 960, height: 540 }],
    [
      { width: 900, height: 360 },
      rule({ aspect: '5:2', minWidth: 1500, minHeight: 600 }),
      { width: 1500, height: 600 },
    ],
    [{ width: 640, height: 480 }, rule({ aspect: null }), { width: 640, height: 480 }],
  ] as const) {
    it(`${cut.width}x${cut.height} is sent as ${wanted.width}x${wanted.height}`, () => {
      expect(sentSize(cut, rules)).toEqual(wanted);
      expect(isSmall(cut, rules)).toBe(cut.width < wanted.width);
    });
  }

  for (const aspect of [null, '', '16', '16:0', '-1:2', 'a:b'])
    it(`${String(aspect)} is no aspect`, () => expect(ratioOf(aspect)).toBeNull());
});
