import type { FrameMeasures } from '@juncta/core/dressing';
import {
  fitWhole,
  framed,
  portraitIn,
  tintOf,
  type Adjustment,
  type PlacedLayer,
  type Rect,
  type Size,
} from '@juncta/core/stage';

type Context = OffscreenCanvasRenderingContext2D;

/** Somebody or a screen, where and how they stand. */
export interface FramedLayer extends PlacedLayer {
  readonly kind: string;
  readonly adjustment: Adjustment;
  /** Of its corners, pixels. */
  readonly radius: number;
  /** The line around it; null: there is none. */
  readonly border: Border | null;
}
export type Border = NonNullable<FrameMeasures['border']>;

/** Somebody whose picture is missing keeps their place: a dark field, their initials, and their name. */
const MISSING = '#1b211d';

/**
 * Paints a source's picture within its corners, with its line around it.
 *
 * @param portrait what stands for it while there is none
 * @param picture of the programme
 */
export function paintFrame(
  context: Context,
  layer: FramedLayer,
  frame: VideoFrame | null,
  portrait: ImageBitmap | undefined,
  picture: Size,
): void {
  const { kind, rect, radius, border } = layer;
  const at = frame && kind === 'screen' ? fitWhole(sizeOf(frame), rect) : rect;
  if (radius > 0) {
    context.save();
    context.beginPath();
    context.roundRect(at.x, at.y, at.width, at.height, radius);
    context.clip();
  }
  if (frame) paintAdjusted(context, layer.adjustment, frame, at);
  else paintMissing(context, rect, portrait);
  if (radius > 0) context.restore();
  if (border) paintBorder(context, at, radius, border, picture);
}

const sizeOf = ({ displayWidth, displayHeight }: VideoFrame): Size => ({
  width: displayWidth,
  height: displayHeight,
});

function paintAdjusted(context: Context, adjustment: Adjustment, frame: VideoFrame, at: Rect): void {
  const { x, y, width, height } = framed(sizeOf(frame), at, adjustment);
  const { mirror, brightness, contrast } = adjustment;
  const isToned = brightness !== 1 || contrast !== 1;
  if (isToned) context.filter = `brightness(${brightness}) contrast(${contrast})`;
  context.save();
  if (mirror) context.transform(-1, 0, 0, 1, 2 * at.x + at.width, 0);
  context.drawImage(frame, x, y, width, height, at.x, at.y, at.width, at.height);
  context.restore();
  if (isToned) context.filter = 'none';
  const tint = tintOf(adjustment);
  if (!tint) return;
  context.globalCompositeOperation = 'multiply';
  context.fillStyle = `rgb(${tint.join(' ')})`;
  context.fillRect(at.x, at.y, at.width, at.height);
  context.globalCompositeOperation = 'source-over';
}

function paintMissing(context: Context, rect: Rect, portrait: ImageBitmap | undefined): void {
  context.fillStyle = MISSING;
  context.fillRect(rect.x, rect.y, rect.width, rect.height);
  if (!portrait) return;
  const { x, y, width, height } = portraitIn(rect);
  context.drawImage(portrait, x, y, width, height);
}

function paintBorder(
  context: Context,
  at: Rect,
  radius: number,
  { width, colour }: Border,
  picture: Size,
): void {
  const line = Math.max(1, Math.round(width * picture.height));
  context.strokeStyle = colour;
  context.lineWidth = line;
  context.beginPath();
  const [x, y] = [at.x + line / 2, at.y + line / 2];
  context.roundRect(x, y, at.width - line, at.height - line, Math.max(0, radius - line / 2));
  context.stroke();
}
