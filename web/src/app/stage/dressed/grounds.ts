import type { Dressing } from '@juncta/core/dressing';
import { cropToFill, type Size, type Slate } from '@juncta/core/stage';
import type { DrawnBackdrop } from '../messages';
import { imageFor } from './images';
import { draw, headingFont, textFont, type Context } from './paper';

/** Of the picture's width in a second: a viewer sees that it moved, and not that it moves. */
const DRIFT = 0.008;

/** What stands behind everybody. */
export function drawBackdrop(dressing: Dressing, size: Size): DrawnBackdrop {
  const isDrift = dressing.backdrop === 'drift';
  const wide = isDrift ? { ...size, width: 2 * size.width } : size;
  return {
    image: draw(wide, (context) => paintBackdrop(context, dressing, wide)),
    passes: isDrift ? DRIFT : 0,
  };
}

/** What a slate says beneath its own words. */
export interface SlateWords {
  readonly title: string;
  /** When the show begins; empty: that is not said. */
  readonly begins: string;
}

/** What viewers see while the programme is away. */
export function drawSlate(dressing: Dressing, of: Slate, words: SlateWords, size: Size): ImageBitmap {
  const { width, height } = size;
  const { palette, faces, slates, backdrop } = dressing;
  const begins = of === 'before' ? words.begins : '';
  return draw(size, (context) => {
    paintBackdrop(context, dressing, size);
    if (backdrop === 'lines' || backdrop === 'drift' || backdrop === 'picture')
      paintCalm(context, palette.ground, size);
    context.fillStyle = palette.paper;
    context.textAlign = 'center';
    context.font = headingFont(faces, height * 0.105);
    context.fillText(slates[of], width / 2, height * 0.48, width * 0.86);
    context.font = textFont(faces, height * 0.05);
    context.fillText(words.title, width / 2, height * 0.58, width * 0.86);
    context.fillStyle = palette.accent;
    context.fillRect(width * 0.44, height * 0.66, width * 0.12, height * 0.012);
    if (begins === '') return;
    context.fillStyle = palette.paper;
    context.font = headingFont(faces, height * 0.06);
    context.fillText(begins, width / 2, height * 0.77, width * 0.86);
  });
}

function paintBackdrop(context: Context, dressing: Dressing, size: Size): void {
  const { palette, backdrop } = dressing;
  const { width, height } = size;
  context.fillStyle = palette.ground;
  if (backdrop === 'gradient') {
    const shade = context.createLinearGradient(0, 0, width * 0.4, height);
    shade.addColorStop(0, palette.ground);
    shade.addColorStop(1, palette.relief);
    context.fillStyle = shade;
  }
  context.fillRect(0, 0, width, height);
  if (backdrop === 'lines') paintLines(context, palette.relief, size);
  if (backdrop === 'drift') paintDrift(context, palette, size);
  const image = backdrop === 'picture' ? imageFor(dressing.backdropImage) : null;
  if (!image) return;
  const cut = cropToFill(image, size);
  context.drawImage(image, cut.x, cut.y, cut.width, cut.height, 0, 0, width, height);
}

/** Words are read on the plain ground, into which the lines go over. */
function paintCalm(context: Context, ground: string, { width, height }: Size): void {
  const calm = context.createLinearGradient(0, 0, 0, height);
  calm.addColorStop(0.24, `${ground}00`);
  calm.addColorStop(0.36, ground);
  calm.addColorStop(0.68, ground);
  calm.addColorStop(0.8, `${ground}00`);
  context.fillStyle = calm;
  context.fillRect(0, 0, width, height);
}

/** Lines that come together and go out again. */
function paintLines(context: Context, colour: string, { width, height }: Size): void {
  context.strokeStyle = colour;
  context.lineWidth = height / 72;
  for (let i = -3; i <= 3; i++) {
    const [far, near] = [height / 2 + i * height * 0.18, height / 2 + i * height * 0.022];
    context.beginPath();
    context.moveTo(-20, far);
    context.bezierCurveTo(width * 0.3, far, width * 0.3, near, width / 2, near);
    context.bezierCurveTo(width * 0.7, near, width * 0.7, far, width + 20, far);
    context.stroke();
  }
}

/** Broad bands of light that lean over one another; where the picture ends they go on as they began. */
function paintDrift(
  context: Context,
  { ground, relief }: Dressing['palette'],
  { width, height }: Size,
): void {
  context.save();
  // They lean to the right, and their light with them.
  context.transform(1, 0, -LEAN, 1, LEAN * (height / 2), 0);
  for (const [at, wide, strength] of BANDS) {
    // Once more at both ends: one that leaves at the right comes in at the left.
    for (const shift of [-width, 0, width]) {
      const half = (wide * width) / 2;
      const from = at * width + shift - half;
      const light = context.createLinearGradient(from, 0, from + 2 * half, 0);
      light.addColorStop(0, `${relief}00`);
      light.addColorStop(0.5, `${relief}${strength}`);
      light.addColorStop(1, `${relief}00`);
      context.fillStyle = light;
      context.fillRect(from, 0, 2 * half, height);
    }
  }
  context.restore();
  // The foot is calmer: names stand there.
  const shade = context.createLinearGradient(0, height * 0.5, 0, height);
  shade.addColorStop(0, `${ground}00`);
  shade.addColorStop(1, `${ground}90`);
  context.fillStyle = shade;
  context.fillRect(0, 0, width, height);
}
/** So far to the left a band has come at the foot, by its height. */
const LEAN = 0.7;
/** Where each band stands, how wide it is, both shares of the whole, and how strong, hexadecimal alpha. */
const BANDS = [
  [0.08, 0.22, 'd0'],
  [0.29, 0.34, '90'],
  [0.52, 0.18, 'e0'],
  [0.7, 0.3, 'a0'],
  [0.9, 0.2, 'c0'],
] as const;
