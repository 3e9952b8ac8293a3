import { timeAt } from '@juncta/core/clock';
import { clockWords, tickerOffset, type Rect, type Size } from '@juncta/core/stage';
import { CLOCK_SIGNS, type DrawnBackdrop, type DrawnClock, type DrawnTicker } from '../messages';

type Context = OffscreenCanvasRenderingContext2D;

/** Of a band's height: the line along its upper edge. */
const EDGE = 0.06;

/** How far a ticker has run in the picture's own pixels. */
export function tickerAt({ lines }: DrawnTicker, sinceMs: number, rect: Rect, pictureHeight: number): number {
  const length = lines.reduce((sum, image) => sum + shownWidth(image, rect), 0);
  // It comes in from the right, so that its first words are read like all others.
  return tickerOffset(sinceMs, pictureHeight, length + rect.width) - rect.width;
}

/** Paints the part of a ticker's lines that is in its band, which it fills. */
export function paintTicker(
  context: Context,
  { lines, ground, edge }: DrawnTicker,
  rect: Rect,
  at: number,
): void {
  context.fillStyle = ground;
  context.fillRect(rect.x, rect.y, rect.width, rect.height);
  let x = rect.x - at;
  for (const image of lines) {
    const width = shownWidth(image, rect);
    if (x < rect.x + rect.width && x + width > rect.x)
      context.drawImage(image, x, rect.y, width, rect.height);
    x += width;
  }
  context.fillStyle = edge;
  context.fillRect(rect.x, rect.y, rect.width, Math.max(1, Math.round(rect.height * EDGE)));
}

/** A line is drawn for the programme, and shown smaller where the picture is. */
const shownWidth = (image: ImageBitmap, { height }: Rect): number => (image.width * height) / image.height;

/** What a clock reads now, by the house's clock and not by this machine's. */
export const clockAt = ({ clock, time }: DrawnClock, machineMs: number): string =>
  clockWords(clock, timeAt(time, machineMs));

/** Of a sign's room: a colon needs less. */
const COLON = 0.6;

export function paintClock(context: Context, { ground, signs }: DrawnClock, rect: Rect, words: string): void {
  context.drawImage(ground, rect.x, rect.y, rect.width, rect.height);
  const cell = signs.width / CLOCK_SIGNS.length;
  const scale = rect.height / signs.height;
  const widths = Array.from(words).map((sign) => (sign === ':' ? COLON : 1) * cell);
  let x = rect.x + (rect.width - widths.reduce((sum, width) => sum + width, 0) * scale) / 2;
  Array.from(words).forEach((sign, i) => {
    const width = widths[i]!;
    const from = CLOCK_SIGNS.indexOf(sign) * cell + (cell - width) / 2;
    context.drawImage(signs, from, 0, width, signs.height, x, rect.y, width * scale, rect.height);
    x += width * scale;
  });
}

/**
 * Stacks messages from the foot of their column, the newest lowest; what has no room any more is left out.
 *
 * @param entries `share`: how much of each is seen, 0 to 1
 */
export function paintEntries(
  context: CanvasDrawImage & CanvasCompositing,
  entries: readonly { readonly image: ImageBitmap; readonly share: number }[],
  { x, y, width, height }: Rect,
  gap: number,
): void {
  let foot = y + height;
  for (const { image, share } of entries.toReversed()) {
    const high = (image.height * width) / image.width;
    if (foot - high < y) break;
    context.globalAlpha = share;
    context.drawImage(image, x, foot - high, width, high);
    foot -= high + gap;
  }
  context.globalAlpha = 1;
}

/**
 * Fills the picture with what stands behind everybody.
 *
 * @param passed so far one that passes has come, px of the picture
 */
export function paintBackdrop(
  context: Context,
  { image, passes }: DrawnBackdrop,
  passed: number,
  { width, height }: Size,
): void {
  if (passes === 0) {
    context.drawImage(image, 0, 0, width, height);
    return;
  }
  const whole = Math.round((image.width * height) / image.height);
  const at = passed % whole;
  context.drawImage(image, -at, 0, whole, height);
  if (whole - at < width) context.drawImage(image, whole - at, 0, whole, height);
}
