import fc from 'fast-check';
import { AS_IT_COMES, framed, gainOf, MOST_ZOOM, tintOf } from './adjustment';
import { cropToFill } from './layouts';

const anySize = fc.record({
  width: fc.integer({ min: 160, max: 1920 }),
  height: fc.integer({ min: 160, max: 1080 }),
});
const anyPart = fc.double({ min: -1, max: 1, noNaN: true });

describe('how a source is adjusted', () => {
  it('frames a part of it that is within it and has the shape of its place', () => {
    const anyZoom = fc.double({ min: 1, max: MOST_ZOOM, noNaN: true });
    fc.assert(
      fc.property(anySize, anySize, anyZoom, anyPart, anyPart, (source, place, zoom, panX, panY) => {
        const part = framed(source, place, { ...AS_IT_COMES, zoom, panX, panY });
        expect(part.width / part.height).toBeCloseTo(place.width / place.height, 6);
        expect(part.x).toBeGreaterThanOrEqual(-1e-6);
        expect(part.y).toBeGreaterThanOrEqual(-1e-6);
        expect(part.x + part.width).toBeLessThanOrEqual(source.width + 1e-6);
        expect(part.y + part.height).toBeLessThanOrEqual(source.height + 1e-6);
      }),
    );
  });

  it('leaves it alone when nothing is adjusted', () => {
    fc.assert(
      fc.property(anySize, anySize, (source, place) => {
        const [part, whole] = [framed(source, place, AS_IT_COMES), cropToFill(source, place)];
        for (const of of ['x', 'y', 'width', 'height'] as const) expect(part[of]).toBeCloseTo(whole[of], 6);
      }),
    );
    expect([tintOf(AS_IT_COMES), gainOf(AS_IT_COMES)]).toEqual([null, 1]);
  });

  it('shows the left edge when it is panned left, and the right when it is panned right', () => {
    const [source, place] = [
      { width: 1600, height: 900 },
      { width: 400, height: 400 },
    ];
    const at = (panX: number) => framed(source, place, { ...AS_IT_COMES, panX });
    expect([at(-1).x, at(0).x, at(1).x + at(1).width]).toEqual([0, 350, 1600]);
  });

  it('is warmer with less blue, colder with less red, and silent when muted', () => {
    const [warm, cold] = [1, -1].map((warmth) => tintOf({ ...AS_IT_COMES, warmth })!);
    expect(warm![2]).toBeLessThan(warm![0]);
    expect(cold![0]).toBeLessThan(cold![2]);
    expect(gainOf({ ...AS_IT_COMES, level: 1.5 })).toBe(1.5);
    expect(gainOf({ ...AS_IT_COMES, level: 1.5, isMuted: true })).toBe(0);
  });
});
