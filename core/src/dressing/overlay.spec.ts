import fc from 'fast-check';
import { contains, CORNER_LINE, GRAPHICS_SAFE, type Rect } from '../stage';
import { LEAST_OVERLAY_WIDTH, OVERLAY_PLACES, overlayPlace, overlaysOn, type Overlay } from './overlay';

describe('where an overlay stands', () => {
  const anyOverlay = fc.record({
    place: fc.constantFrom(...OVERLAY_PLACES),
    width: fc.double({ min: LEAST_OVERLAY_WIDTH, max: 1, noNaN: true }),
    image: fc.record({
      id: fc.constant('0123456789abcdef'),
      width: fc.integer({ min: 16, max: 1920 }),
      height: fc.integer({ min: 16, max: 1080 }),
      lengthMs: fc.constant(null),
    }),
  });
  const safe: Rect = { x: 0.05, y: 0.05, width: 0.9, height: 0.9 };
  const grown = ({ x, y, width, height }: Rect): Rect => ({
    x: x - 1e-9,
    y: y - 1e-9,
    width: width + 2e-9,
    height: height + 2e-9,
  });

  it('is within the safe area, in its own proportions, and no wider than it was made', () => {
    fc.assert(
      fc.property(anyOverlay, (overlay) => {
        const place = overlayPlace(overlay);
        if (overlay.place === 'whole') {
          expect(place).toEqual({ x: 0, y: 0, width: 1, height: 1 });
          return;
        }
        if (!contains(grown(safe), place)) fail(`${JSON.stringify(place)} is cut off`);
        expect(place.width).toBeLessThanOrEqual(overlay.width + 1e-9);
        const { width, height } = overlay.image;
        expect((place.width * 16) / (place.height * 9) / (width / height)).toBeCloseTo(1, 6);
      }),
    );
  });

  it('is where its place says', () => {
    const at = (place: (typeof OVERLAY_PLACES)[number]) => {
      const image = { id: '', width: 160, height: 90, lengthMs: null };
      const { x, y } = overlayPlace({ place, width: 0.3, image });
      return [x.toFixed(2), y.toFixed(2)];
    };
    const far = (1 - GRAPHICS_SAFE - 0.3).toFixed(2);
    // Below the words of the house, the clock and the score.
    const top = (GRAPHICS_SAFE + CORNER_LINE).toFixed(2);
    expect(at('top_left')).toEqual(['0.05', top]);
    expect(at('top')).toEqual(['0.35', top]);
    expect(at('right')).toEqual([far, '0.35']);
    expect(at('middle')).toEqual(['0.35', '0.35']);
    expect(at('bottom_right')).toEqual([far, far]);
  });
});

describe('the overlays that are on', () => {
  it('are in the order in which they came on, without those that are none any more', () => {
    const overlay = (id: string) => ({ id }) as Overlay;
    const dressing = { overlays: ['a', 'b', 'c'].map(overlay) };
    expect(overlaysOn(dressing, ['c', 'gone', 'a']).map(({ id }) => id)).toEqual(['c', 'a']);
  });
});
