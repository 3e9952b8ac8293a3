import type { Dressing } from '@juncta/core/dressing';
import { cropToFill, type Size } from '@juncta/core/stage';
import { imageFor } from './images';
import { draw, headingFont, textFont, type Context } from './paper';

/** What stands behind everybody. */
export const drawBackdrop = (dressing: Dressing, size: Size): ImageBitmap =>
  draw(size, (context) => paintBackdrop(context, dressing, size));

/** What viewers see while the programme is away. */
export function drawSlate(dressing: Dressing, title: string, size: Size): ImageBitmap {
  const { width, height } = size;
  const { palette, faces, slate, backdrop } = dressing;
  return draw(size, (context) => {
    paintBackdrop(context, dressing, size);
    if (backdrop === 'lines' || backdrop === 'picture') paintCalm(context, palette.ground, size);
    context.fillStyle = palette.paper;
    context.textAlign = 'center';
    context.font = headingFont(faces, height * 0.105);
    context.fillText(slate, width / 2, height * 0.48, width * 0.86);
    context.font = textFont(faces, height * 0.05);
    context.fillText(title, width / 2, height * 0.58, width * 0.86);
    context.fillStyle = palette.accent;
    context.fillRect(width * 0.44, height * 0.66, width * 0.12, height * 0.012);
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
