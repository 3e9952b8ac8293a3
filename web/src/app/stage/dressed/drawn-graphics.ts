import type { ClockSetting } from '@juncta/core/clock';
import { overlayPlace, overlaysOn, type Dressing, type Overlay } from '@juncta/core/dressing';
import {
  bandOf,
  addressWords,
  CLOCK_LAYER,
  EMPTY_SCENE,
  geometry,
  hasClock,
  hasTicker,
  LINK_LAYER,
  PRODUCT_LAYER,
  SCORE_LAYER,
  SIDES,
  withGraphics,
  type Graphics,
  type LinkCard,
  type OnScreenClock,
  type ProductCard,
  type ScoreBoard,
  type Size,
} from '@juncta/core/stage';
import {
  CLOCK_SIGNS,
  type DrawnClock,
  type DrawnGraphics,
  type DrawnOverlay,
  type DrawnTicker,
} from '../messages';
import type { Look } from './drawn-scene';
import { fileFor, imageFor } from './images';
import { paintPlate } from './plate';
import { drawSquare } from './qr';
import { draw, headingFont, textFont, widthOf, type Context } from './paper';

/** The desk's graphics, each as large as it will stand in the picture. What moves in them, the composer moves. */
export function drawGraphics(
  graphics: Graphics,
  { dressing, size }: Look,
  time: ClockSetting,
): DrawnGraphics {
  const placed = geometry(withGraphics(EMPTY_SCENE, graphics), size);
  const rectOf = (layer: string) => placed.find(({ source }) => source === layer)?.rect;
  const [clock, score, link] = [rectOf(CLOCK_LAYER), rectOf(SCORE_LAYER), rectOf(LINK_LAYER)];
  const product = rectOf(PRODUCT_LAYER);
  return {
    graphics,
    ticker: hasTicker(graphics) ? drawTicker(graphics.ticker.lines, bandOf(size), dressing) : null,
    clock: clock && hasClock(graphics) ? drawClock(graphics.clock, clock, dressing, time) : null,
    score: score ? drawScore(graphics.score, score, dressing) : null,
    link: link ? drawLink(graphics.link, link, dressing) : null,
    product: product ? drawProduct(graphics.product, product, dressing) : null,
    overlays: overlaysOn(dressing, graphics.overlays).map((overlay) => drawOwn(overlay, size)),
  };
}

/** One of the house's own overlays, as large as it will stand there. What moves is drawn where it moves. */
function drawOwn(overlay: Overlay, size: Size): DrawnOverlay {
  const { id, image, opacity, repeats } = overlay;
  const place = overlayPlace(overlay);
  const wide = Math.max(1, Math.round(place.width * size.width));
  const high = Math.max(1, Math.round(place.height * size.height));
  const still = imageFor(image);
  const file = fileFor(image);
  return {
    id,
    place,
    opacity,
    still:
      still && draw({ width: wide, height: high }, (context) => context.drawImage(still, 0, 0, wide, high)),
    moving: file && { imageId: image.id, file, repeats },
  };
}

function drawTicker(lines: readonly string[], { height }: Size, { palette, faces }: Dressing): DrawnTicker {
  const font = textFont(faces, height * 0.56);
  return {
    ground: palette.paper,
    edge: palette.accent,
    lines: lines.map((line) => {
      const words = Math.ceil(widthOf(line, font));
      // The mark between two lines, in the middle of as much room as a line is high.
      const size = { width: words + height * 2, height };
      return draw(size, (context) => {
        context.font = font;
        context.fillStyle = palette.ink;
        context.textBaseline = 'middle';
        context.fillText(line, 0, height * 0.54);
        context.fillStyle = palette.accent;
        context.fillRect(words + height * 0.9, height * 0.4, height * 0.2, height * 0.2);
      });
    }),
  };
}

function drawClock(
  clock: OnScreenClock,
  size: Size,
  { palette, faces }: Dressing,
  time: ClockSetting,
): DrawnClock {
  const { height } = size;
  const font = headingFont(faces, height * 0.6);
  // Every sign has the same room, or the time would tremble.
  const cell = Math.ceil(Math.max(...Array.from(CLOCK_SIGNS).map((sign) => widthOf(sign, font)))) + 1;
  return {
    ground: draw(size, (context) => {
      context.fillStyle = palette.ground;
      context.fillRect(0, 0, size.width, height);
      context.fillStyle = palette.accent;
      context.fillRect(0, height * 0.92, size.width, height * 0.08);
    }),
    signs: draw({ width: cell * CLOCK_SIGNS.length, height }, (context) => {
      context.font = font;
      context.fillStyle = palette.paper;
      context.textAlign = 'center';
      context.textBaseline = 'middle';
      Array.from(CLOCK_SIGNS).forEach((sign, i) => context.fillText(sign, (i + 0.5) * cell, height * 0.5));
    }),
    clock,
    time,
  };
}

/** Name, points, points, name: as much room for the one side as for the other. */
function drawScore({ names, points }: ScoreBoard, size: Size, { palette, faces }: Dressing): ImageBitmap {
  const { width, height } = size;
  const [cell, room] = [height * 1.5, width / 2 - height * 1.5];
  return draw(size, (context) => {
    for (const side of SIDES) {
      const [nameAt, pointsAt] = side === 0 ? [0, width / 2 - cell] : [width / 2 + cell, width / 2];
      fill(context, palette.paper, nameAt, room, height);
      fill(context, palette.ground, pointsAt, cell, height);
      context.textBaseline = 'middle';
      context.textAlign = 'center';
      context.font = headingFont(faces, height * 0.5);
      context.fillStyle = palette.ink;
      context.fillText(names[side], nameAt + room / 2, height * 0.53, room - height * 0.6);
      context.font = headingFont(faces, height * 0.62);
      context.fillStyle = palette.paper;
      context.fillText(String(points[side]), pointsAt + cell / 2, height * 0.53, cell * 0.86);
    }
    context.fillStyle = palette.accent;
    context.fillRect(0, height * 0.92, width, height * 0.08);
    context.fillStyle = palette.relief;
    context.fillRect(width / 2 - 1, height * 0.2, 2, height * 0.6);
  });
}

/** A plate with a line and its address, and the address as a square that phones read. */
function drawLink({ line, address }: LinkCard, size: Size, dressing: Dressing): ImageBitmap {
  const words = addressWords(address);
  return drawWithSquare(size, dressing, line || words, line ? words : '', address);
}

/** The same of what can be bought: its name, and what it costs and where. */
function drawProduct({ name, price, address }: ProductCard, size: Size, dressing: Dressing): ImageBitmap {
  const words = [price, addressWords(address)].filter((one) => one !== '').join(' · ');
  return drawWithSquare(size, dressing, name, words, address);
}

function drawWithSquare(
  size: Size,
  dressing: Dressing,
  heading: string,
  text: string,
  address: string,
): ImageBitmap {
  const side = address === '' ? 0 : Math.floor(size.height * 0.94);
  return draw(size, (context) => {
    const end = paintPlate(context, dressing, size, { heading, text, lines: 1, keptFree: side });
    if (address !== '') drawSquare(context, address, end, (size.height - side) / 2, side);
  });
}

function fill(context: Context, colour: string, x: number, width: number, height: number): void {
  context.fillStyle = colour;
  context.fillRect(x, 0, width, height);
}
