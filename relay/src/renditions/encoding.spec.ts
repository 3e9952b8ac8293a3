import type { RenditionRequest } from '@juncta/contract/relay';
import { sizeOf } from '@juncta/core/renditions';
import { execFileSync } from 'node:child_process';
import { filtersOf } from './encoding';

type Spot = readonly [across: number, down: number];
type Rgb = readonly [number, number, number];
const isRed = ([r, , b]: Rgb) => r > 180 && b < 70;
const isBlue = ([r, , b]: Rgb) => b > 180 && r < 70;
const isDark = ([r, g, b]: Rgb) => Math.max(r, g, b) < 150;

/** What becomes of a picture whose left half is red and whose right half is blue. */
describe('the shape of a rendition', () => {
  /** One frame of it, at these spots (shares of width and height). */
  function made(what: RenditionRequest, spots: readonly Spot[]): readonly Rgb[] {
    const { width, height } = sizeOf(what);
    const source = 'color=c=red:s=1280x720:r=30,drawbox=x=640:w=640:c=blue:t=fill';
    const bytes = execFileSync(
      'ffmpeg',
      [
        ...['-v', 'error', '-nostdin', '-f', 'lavfi', '-i', source, '-frames:v', '1'],
        ...['-vf', filtersOf(what), '-pix_fmt', 'rgb24', '-f', 'rawvideo', 'pipe:1'],
      ],
      { maxBuffer: 16_000_000 },
    );
    expect(bytes.length)
      .withContext('bytes of a whole picture')
      .toBe(width * height * 3);
    return spots.map(([across, down]) => {
      const at = (Math.floor(down * height) * width + Math.floor(across * width)) * 3;
      return [bytes[at]!, bytes[at + 1]!, bytes[at + 2]!];
    });
  }
  const of = (shape: RenditionRequest['shape'], height: number): RenditionRequest => ({
    ...{ shape, height, rateHz: 30, oneIn: 1, videoKbps: 1000, keyframeS: 2 },
  });

  it('is that of the programme', () => {
    const [left, right] = made(of('landscape', 480), [
      [0.25, 0.5],
      [0.75, 0.5],
    ]);
    expect([isRed(left!), isBlue(right!)]).toEqual([true, true]);
  });

  for (const lines of [720, 540, 480, 360]) {
    it(`shows the whole of it across ${lines} pixels, over a dark ground`, () => {
      const [left, right, above, below] = made(of('upright_whole', lines), [
        [0.02, 0.5],
        [0.98, 0.5],
        [0.2, 0.1],
        [0.8, 0.9],
      ]);
      expect([isRed(left!), isBlue(right!), isDark(above!), isDark(below!)]).toEqual([
        true,
        true,
        true,
        true,
      ]);
    });

    it(`shows its left half above its right half, ${lines} pixels across`, () => {
      const [upper, lower] = made(of('upright_halves', lines), [
        [0.98, 0.48],
        [0.02, 0.52],
      ]);
      expect([isRed(upper!), isBlue(lower!)]).toEqual([true, true]);
    });

    it(`shows its middle from top to bottom, ${lines} pixels across`, () => {
      const [left, right] = made(of('upright_middle', lines), [
        [0.1, 0.02],
        [0.9, 0.98],
      ]);
      expect([isRed(left!), isBlue(right!)]).toEqual([true, true]);
    });
  }
});
